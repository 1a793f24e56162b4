import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useLocation } from "react-router";
import { api, type Schemas } from "@/shared/api/client";
import { Button } from "@/shared/kit/Button";
import { PageLink } from "@/shared/kit/PageLink";
import { SILENT } from "./useAgreement";

const DATA = "/accounts/your/data";

/** Something is wrong with the app or its file, or was: said on every page, with the way to what can be done. */
export function FaultBar() {
  // The window that is looked at asks for it every two seconds anyhow.
  const news = useQuery<Pick<Schemas["ChangeNumber"], "fault" | "notices"> | null>({
    queryKey: ["fault"],
    enabled: false,
  }).data;
  const isSilent = useQuery<boolean>({ queryKey: SILENT, enabled: false }).data;
  const isThere = useLocation().pathname === DATA;
  if (isSilent) return <Silent />;
  if (!news) return null;
  return (
    <>
      {news.fault && !isThere && (
        <p role="alert" className={`${LINE} border-rust text-rust`}>
          <span className="min-w-0 flex-1 font-semibold">{news.fault}</span>
          <PageLink to={DATA}>What can be done</PageLink>
        </p>
      )}
      {news.notices.length > 0 && <Notices notices={news.notices} isThere={isThere} />}
    </>
  );
}

const LINE = "flex flex-wrap items-center gap-x-3 border-b-2 px-4 py-1 md:px-6";

/** Nobody answers. What is on the screen stays there, with what was typed. */
function Silent() {
  return (
    <p role="alert" className={`${LINE} border-rust`}>
      <span className="min-w-0 flex-1">
        <span className="font-semibold text-rust">The app is not running.</span> What you see is as it was last read.
        Start it as you did before (<code>next-penny serve</code>): this page goes on by itself.
      </span>
    </p>
  );
}

function Notices({ notices, isThere }: { notices: string[]; isThere: boolean }) {
  const client = useQueryClient();
  const forget = async () => {
    await api.delete("/api/file/notices");
    client.setQueryData(["fault"], (before: object | null) => before && { ...before, notices: [] });
  };
  return (
    <div role="status" className={`${LINE} border-copper`}>
      <p className="min-w-0 flex-1">{notices.join(" ")}</p>
      {!isThere && <PageLink to={DATA}>See the backups</PageLink>}
      <Button look="link" onClick={forget}>
        I have read it
      </Button>
    </div>
  );
}
