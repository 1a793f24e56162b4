import "./shared/look/nonce";
import "./theme.css";
import { QueryClientProvider } from "@tanstack/react-query";
import { type ComponentType, StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { createBrowserRouter, Navigate, RouterProvider } from "react-router";
import { Frame } from "./app/Frame";
import { Failed } from "./app/lost/Failed";
import { Lost } from "./app/lost/Lost";
import { firstPages } from "./app/places";
import { Ahead } from "./places/ahead/Ahead";
import { queries } from "./shared/api/queries";
import { ToastProvider } from "./shared/kit/Toast";
import { TooltipProvider } from "./shared/kit/Tooltip";
import { startTheme } from "./shared/look/theme";

startTheme();

/** A page that is printed by itself, without the frame. */
const onPaper = (path: string, load: () => Promise<ComponentType>) => ({
  path,
  lazy: async () => ({ Component: await load() }),
  errorElement: <Failed />,
  hydrateFallbackElement: <></>,
});

const router = createBrowserRouter([
  onPaper("/print/loan", async () => (await import("./places/debts/loan/PrintLoan")).PrintLoan),
  onPaper("/print/loan-years", async () => (await import("./places/debts/mortgage/LoanYears")).PrintLoanYears),
  onPaper("/print/way-out", async () => (await import("./places/debts/way/PrintWay")).PrintWay),
  onPaper("/print/debt-years", async () => (await import("./places/debts/way/PrintWay")).PrintDebtYears),
  onPaper("/print/year", async () => (await import("./places/ahead/years/YearList")).PrintYearList),
  onPaper("/print/year-end", async () => (await import("./places/review/year/YearEnd")).PrintYearEnd),
  onPaper("/print/review-months", async () => (await import("./places/review/months/ReviewMonths")).PrintReviewMonths),
  onPaper("/print/tax-year", async () => (await import("./places/review/TaxYear")).PrintTaxYear),
  {
    path: "/",
    element: <Frame />,
    errorElement: <Failed />,
    hydrateFallbackElement: <></>,
    children: [
      { index: true, element: <Navigate to="/ahead" replace /> },
      { path: "ahead", element: <Ahead /> },
      {
        path: "ahead/months",
        lazy: async () => ({ Component: (await import("./places/ahead/months/Months")).Months }),
      },
      {
        path: "ahead/calendar",
        lazy: async () => ({ Component: (await import("./places/ahead/calendar/Calendar")).Calendar }),
      },
      {
        path: "ahead/year",
        lazy: async () => ({ Component: (await import("./places/ahead/years/YearList")).YearList }),
      },
      {
        path: "ahead/what-ifs",
        lazy: async () => ({ Component: (await import("./places/ahead/beside/SideBySide")).SideBySide }),
      },
      {
        path: "ahead/worth",
        lazy: async () => ({ Component: (await import("./places/ahead/years/NetWorth")).NetWorth }),
      },
      { path: "settle", lazy: async () => ({ Component: await firstPages.settle() }) },
      { path: "flows", lazy: async () => ({ Component: await firstPages.flows() }) },
      { path: "debts", lazy: async () => ({ Component: await firstPages.debts() }) },
      { path: "debts/try", lazy: async () => ({ Component: (await import("./places/debts/loan/TryLoan")).TryLoan }) },
      { path: "debts/way-out", lazy: async () => ({ Component: (await import("./places/debts/way/WayOut")).WayOut }) },
      {
        path: "debts/cards/:id",
        lazy: async () => ({ Component: (await import("./places/debts/cards/CardPage")).CardPage }),
      },
      {
        path: "debts/whole",
        lazy: async () => ({ Component: (await import("./places/debts/mortgage/RecordedWhole")).RecordedWhole }),
      },
      {
        path: "debts/years",
        lazy: async () => ({ Component: (await import("./places/debts/mortgage/LoanYears")).LoanYears }),
      },
      {
        path: "debts/properties",
        lazy: async () => ({ Component: (await import("./places/debts/mortgage/Properties")).Properties }),
      },
      { path: "debts/:id", lazy: async () => ({ Component: (await import("./places/debts/loan/LoanPage")).LoanPage }) },
      {
        path: "debts/:id/statement",
        lazy: async () => ({ Component: (await import("./places/debts/mortgage/StatementCheck")).StatementCheck }),
      },
      {
        path: "debts/:id/escrow",
        lazy: async () => ({ Component: (await import("./places/debts/mortgage/EscrowPage")).EscrowPage }),
      },
      { path: "review", lazy: async () => ({ Component: await firstPages.review() }) },
      {
        path: "review/months",
        lazy: async () => ({ Component: (await import("./places/review/months/ReviewMonths")).ReviewMonths }),
      },
      {
        path: "review/goals",
        lazy: async () => ({ Component: (await import("./places/review/goals/Goals")).Goals }),
      },
      {
        path: "review/year",
        lazy: async () => ({ Component: (await import("./places/review/year/YearEnd")).YearEnd }),
      },
      {
        path: "review/subscriptions",
        lazy: async () => ({
          Component: (await import("./places/review/SubscriptionYears")).SubscriptionYears,
        }),
      },
      {
        path: "review/changes",
        lazy: async () => ({ Component: (await import("./places/review/Changes")).Changes }),
      },
      { path: "review/tags", lazy: async () => ({ Component: (await import("./places/review/TaxYear")).TaxYear }) },
      { path: "accounts", lazy: async () => ({ Component: await firstPages.accounts() }) },
      {
        path: "accounts/:id",
        lazy: async () => ({ Component: (await import("./places/accounts/Register")).Register }),
      },
      {
        path: "accounts/:id/interest",
        lazy: async () => ({ Component: (await import("./places/accounts/interest/InterestPage")).InterestPage }),
      },
      {
        path: "accounts/:id/statements",
        lazy: async () => ({ Component: (await import("./places/accounts/statements/Statements")).Statements }),
      },
      {
        path: "accounts/:id/statements/:statement",
        lazy: async () => ({ Component: (await import("./places/accounts/statements/Reconcile")).Reconcile }),
      },
      {
        path: "accounts/your/interest",
        lazy: async () => ({ Component: (await import("./places/accounts/interest/InterestCheck")).InterestCheck }),
      },
      {
        path: "accounts/your/lent",
        lazy: async () => ({ Component: (await import("./places/accounts/lent/LentPage")).LentPage }),
      },
      {
        path: "accounts/your/rates",
        lazy: async () => ({ Component: (await import("./places/accounts/rates/RatesPage")).RatesPage }),
      },
      {
        path: "accounts/your/entries",
        lazy: async () => ({ Component: (await import("./places/accounts/Register")).Register }),
      },
      {
        path: "accounts/your/bank-files",
        lazy: async () => ({ Component: (await import("./places/accounts/files/BankFiles")).BankFiles }),
      },
      {
        path: "accounts/your/connections",
        lazy: async () => ({
          Component: (await import("./places/accounts/connections/ConnectionsPage")).ConnectionsPage,
        }),
      },
      {
        path: "accounts/your/data",
        lazy: async () => ({ Component: (await import("./places/accounts/data/YourData")).YourData }),
      },
      { path: "*", element: <Lost isInside /> },
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
            {/* What was asked for is shown at once: as a transition it waited for every answer that came meanwhile. */}
            <RouterProvider router={router} useTransitions={false} />
          </ToastProvider>
        </TooltipProvider>
      </QueryClientProvider>
    </StrictMode>,
  );
