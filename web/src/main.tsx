import "./shared/nonce";
import "./theme.css";
import { QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { createBrowserRouter, Navigate, RouterProvider } from "react-router";
import { Frame } from "./app/Frame";
import { Lost } from "./app/Lost";
import { Accounts } from "./places/accounts/Accounts";
import { Register } from "./places/accounts/Register";
import { Ahead } from "./places/ahead/Ahead";
import { CardPage } from "./places/debts/CardPage";
import { Debts } from "./places/debts/Debts";
import { LoanPage } from "./places/debts/LoanPage";
import { EscrowPage } from "./places/debts/mortgage/EscrowPage";
import { LoanYears, PrintLoanYears } from "./places/debts/mortgage/LoanYears";
import { Properties } from "./places/debts/mortgage/Properties";
import { RecordedWhole } from "./places/debts/mortgage/RecordedWhole";
import { StatementCheck } from "./places/debts/mortgage/StatementCheck";
import { PrintLoan } from "./places/debts/PrintLoan";
import { TryLoan } from "./places/debts/TryLoan";
import { PrintDebtYears, PrintWay } from "./places/debts/way/PrintWay";
import { WayOut } from "./places/debts/way/WayOut";
import { Flows } from "./places/flows/Flows";
import { Settle } from "./places/settle/Settle";
import { queries } from "./shared/api/queries";
import { ToastProvider } from "./shared/kit/Toast";
import { TooltipProvider } from "./shared/kit/Tooltip";
import { startTheme } from "./shared/theme";

startTheme();

const router = createBrowserRouter([
  { path: "/print/loan", element: <PrintLoan />, errorElement: <Lost /> },
  { path: "/print/loan-years", element: <PrintLoanYears />, errorElement: <Lost /> },
  { path: "/print/way-out", element: <PrintWay />, errorElement: <Lost /> },
  { path: "/print/debt-years", element: <PrintDebtYears />, errorElement: <Lost /> },
  {
    path: "/",
    element: <Frame />,
    errorElement: <Lost />,
    children: [
      { index: true, element: <Navigate to="/ahead" replace /> },
      { path: "ahead", element: <Ahead /> },
      { path: "settle", element: <Settle /> },
      { path: "flows", element: <Flows /> },
      { path: "debts", element: <Debts /> },
      { path: "debts/try", element: <TryLoan /> },
      { path: "debts/way-out", element: <WayOut /> },
      { path: "debts/cards/:id", element: <CardPage /> },
      { path: "debts/whole", element: <RecordedWhole /> },
      { path: "debts/years", element: <LoanYears /> },
      { path: "debts/properties", element: <Properties /> },
      { path: "debts/:id", element: <LoanPage /> },
      { path: "debts/:id/statement", element: <StatementCheck /> },
      { path: "debts/:id/escrow", element: <EscrowPage /> },
      { path: "accounts", element: <Accounts /> },
      { path: "accounts/:id", element: <Register /> },
      { path: "*", element: <Lost /> },
    ],
  },
]);

if ("serviceWorker" in navigator && import.meta.env.PROD) navigator.serviceWorker.register("/worker.js");

const root = document.getElementById("root");
if (root)
  createRoot(root).render(
    <StrictMode>
      <QueryClientProvider client={queries}>
        <TooltipProvider delayDuration={400}>
          <ToastProvider>
            <RouterProvider router={router} />
          </ToastProvider>
        </TooltipProvider>
      </QueryClientProvider>
    </StrictMode>,
  );
