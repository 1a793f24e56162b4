import { useQuery } from "@tanstack/react-query";
import { answer, api, type Schemas } from "@/shared/api/client";
import { PageLink } from "@/shared/kit/PageLink";

/** Goals that the forecast met when they were last looked at, and misses now. */
export function MissedLine() {
  const { data } = useQuery({
    queryKey: ["goals-missed"],
    queryFn: () => answer<Schemas["MissedAnswer"]>(api.GET("/api/goals/missed")),
  });
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
