import { isRouteErrorResponse, Link, useRouteError } from "react-router";
import { Lost } from "./Lost";
import { NotRunning } from "./NotRunning";

const reload = () => window.location.reload();

/** A page that could not be shown: there is none, the app is not running, or it made a mistake. */
export function Failed() {
  const error = useRouteError();
  if (isRouteErrorResponse(error)) return <Lost />;
  // A part of the interface that did not come: whoever serves it does not answer.
  if (error instanceof TypeError && /import|fetch|load/i.test(error.message)) return <NotRunning onBack={reload} />;
  return (
    <main className="p-8">
      <h1 className="text-xl">This page could not be shown.</h1>
      <p className="mt-2">
        What was saved is in your file.{" "}
        <button type="button" onClick={reload} className="text-copper underline underline-offset-4">
          Try once more
        </button>
        , or{" "}
        <Link to="/ahead" className="text-copper underline underline-offset-4">
          go to the days ahead
        </Link>
        .
      </p>
    </main>
  );
}
