import { useQuery } from "@tanstack/react-query";
import { MISSED } from "@/places/review/goals/useGoals";
import { PageLink } from "@/shared/kit/PageLink";

/** Goals that the forecast met when they were last looked at, and misses now. */
export function MissedLine() {
  const { data } = useQuery(MISSED);
  if (!data || data.missed.length === 0) return null;
  return (
    <p className="mb-2">
      <strong className="text-rust">
        {data.missed.length === 1 ? "A goal is missed now:" : `${data.missed.length} goals are missed now:`}
      </strong>{" "}
      {data.missed.map(({ name, sentence }) => `${name}, ${sentence}`).join(" ")}{" "}
      <PageLink to="/review/goals">See the goals</PageLink>
    </p>
  );
}
