import { Link } from "react-router";

export function Lost() {
  return (
    <main className="p-8">
      <h1 className="text-xl">There is nothing at this address.</h1>
      <p className="mt-2">
        <Link to="/ahead" className="text-copper underline underline-offset-4">
          Go to the days ahead
        </Link>
      </p>
    </main>
  );
}
