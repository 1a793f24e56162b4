import { Link } from "react-router";

/** `isInside`: within the frame, which has the page's main part already. */
export function Lost({ isInside = false }: { isInside?: boolean }) {
  const Part = isInside ? "div" : "main";
  return (
    <Part className="p-8">
      <h1 className="text-xl">There is nothing at this address.</h1>
      <p className="mt-2">
        <Link to="/ahead" className="text-copper underline underline-offset-4">
          Go to the days ahead
        </Link>
      </p>
    </Part>
  );
}
