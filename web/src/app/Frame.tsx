import { lazy, Suspense, useEffect, useState } from "react";
import { NavLink, Outlet, useLocation, useNavigate } from "react-router";
import { useDueCount } from "@/places/settle/useSettle";
import { useWaitingLines } from "@/places/settle/useWaitingLines";
import { isShutOut } from "@/shared/api/client";
import { useAccounts, useHousehold, useUndo } from "@/shared/api/hooks";
import { setWriting } from "@/shared/format";
import { useIsCalm } from "@/shared/hooks/useIsCalm";
import { useIsPhone } from "@/shared/hooks/useIsPhone";
import { useNews } from "@/shared/hooks/useNews";
import { useShortcuts } from "@/shared/hooks/useShortcuts";
import { WatersProvider } from "@/shared/look/waters";
import { keptSearch, useView } from "@/shared/view";
import { useFreshFigures } from "@/shared/whatIf";
import { DropAnywhere } from "./DropAnywhere";
import { FaultBar } from "./FaultBar";
import { Head } from "./Head";
import { NotRunning } from "./lost/NotRunning";
import { OpenSlip } from "./OpenSlip";
import { loadFirstPages, PLACES } from "./places";
import { RecordButton } from "./RecordButton";
import { TidelineBand } from "./TidelineBand";
import { useAgreement } from "./useAgreement";
import { useFocusKept } from "./useFocusKept";
import { WhatIfBar } from "./WhatIfChooser";

const Login = lazy(async () => ({ default: (await import("./Login")).Login }));
const Help = lazy(async () => ({ default: (await import("./Help")).Help }));
const FindOrDo = lazy(async () => ({ default: (await import("./FindOrDo")).FindOrDo }));

/** Head, tideline, the places as tabs hanging from it, the page, and at its right the slip. */
export function Frame() {
  const household = useHousehold();
  if (household.isError && isShutOut(household.error))
    return (
      <Suspense>
        <Login />
      </Suspense>
    );
  if (household.isError) return <NotRunning onBack={() => household.refetch()} />;
  if (!household.data) return null;
  setWriting(household.data);
  // Everything is written anew when the household writes otherwise.
  const { notation, date_order } = household.data;
  return (
    <WatersProvider key={`${notation} ${date_order}`}>
      <Shell />
    </WatersProvider>
  );
}

function Shell() {
  const [isFinding, setFinding] = useState(false);
  const [isHelping, setHelping] = useState(false);
  const navigate = useNavigate();
  const view = useView();
  // On a phone a slip covers the page, which is then out of reach.
  const isCovered = useIsPhone() && view.slip !== null;
  const { undo, redo } = useUndo();
  const hasAccounts = (useAccounts().data?.accounts.length ?? 0) > 0;
  useNews();
  const { pathname } = useLocation();
  const place = PLACES.find((onePlace) => pathname.startsWith(onePlace.path));
  useEffect(() => {
    document.title = place ? `${place.name} – Next Penny` : "Next Penny";
  }, [place]);
  useFreshFigures();
  useFocusKept();
  useAgreement();
  const goTo = Object.fromEntries(
    PLACES.map((onePlace) => [
      onePlace.key,
      () => navigate({ pathname: onePlace.path, search: keptSearch(view.search) }),
    ]),
  );
  useShortcuts({
    ...goTo,
    "/": () => setFinding(true),
    "?": () => setHelping(true),
    // Money moves on an account: without one there is nothing to record.
    ...(hasAccounts && { e: () => view.openSlip("entry", null) }),
    "Ctrl+z": undo,
    "Ctrl+Shift+z": redo,
  });
  return (
    <div className="flex h-dvh flex-col">
      <div inert={isCovered}>
        <Head onSearch={() => setFinding(true)} />
        <TidelineBand />
        <Tabs />
        <WhatIfBar />
        <FaultBar />
      </div>
      <div className="flex min-h-0 flex-1">
        <main
          className="@container relative min-w-0 flex-1 overflow-y-auto bg-paper pb-36 md:pb-0"
          id="page"
          inert={isCovered}
        >
          <Outlet />
        </main>
        <OpenSlip />
      </div>
      <RecordButton onPress={() => setFinding(true)} />
      <DropAnywhere />
      {isFinding && (
        <Suspense>
          <FindOrDo open onClose={() => setFinding(false)} onHelp={() => setHelping(true)} />
        </Suspense>
      )}
      {isHelping && (
        <Suspense>
          <Help onClose={() => setHelping(false)} />
        </Suspense>
      )}
    </div>
  );
}

/** The places: hanging from the tideline, or at the bottom of a phone. */
function Tabs() {
  const view = useView();
  const due = useAtHand();
  return (
    <nav
      aria-label="Places"
      className="fixed inset-x-0 bottom-0 z-20 flex justify-around border-t border-rule bg-paper md:static md:justify-start md:gap-1 md:px-6"
    >
      {PLACES.map((place) => (
        <NavLink
          key={place.path}
          to={{ pathname: place.path, search: keptSearch(view.search) }}
          aria-keyshortcuts={place.key}
          className={({ isActive }) =>
            `relative flex min-h-12 flex-1 flex-col items-center justify-center gap-0.5 px-1 text-xs md:px-4 md:min-h-10 md:flex-none md:flex-row md:gap-2 md:rounded-b-md md:text-base ${
              isActive ? "font-semibold text-ink md:bg-ink md:text-paper" : "text-pencil hover:bg-hover hover:text-ink"
            }`
          }
        >
          <place.icon size={18} aria-hidden />
          <span>
            {place.name}
            {place.path === "/settle" && <Due count={due} />}
          </span>
        </NavLink>
      ))}
    </nav>
  );
}

/** How many lines are due. Once the first page stands, what the tabs lead to is brought to hand. */
function useAtHand(): number {
  const isCalm = useIsCalm();
  useWaitingLines(isCalm);
  useEffect(() => {
    if (isCalm) void loadFirstPages();
  }, [isCalm]);
  return useDueCount(isCalm);
}

/** How many lines wait in Settle. Its place is kept beside other tabs, so that none moves when it is known; a phone's
 * tabs are too narrow for both, so that there it stands at the icon. */
function Due({ count }: { count: number }) {
  const shown = count > 0 ? "" : "hidden md:invisible md:inline-block";
  return (
    <span
      className={`absolute top-0.5 left-1/2 ml-2.5 min-w-4.25 rounded-sm border border-current bg-paper px-1 text-center text-xs font-semibold md:static md:ml-1.5 md:bg-transparent ${shown}`}
    >
      {count}
      <span className="sr-only"> due</span>
    </span>
  );
}
