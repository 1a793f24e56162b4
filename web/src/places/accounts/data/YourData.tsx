import { useQuery } from "@tanstack/react-query";

import { Alert } from "@/shared/kit/Alert";
import { BackLink } from "@/shared/kit/BackLink";
import { BACKUPS, Backups } from "./Backups";
import { BringPlan } from "./BringPlan";
import { CalendarFeed } from "./CalendarFeed";
import { FileFault } from "./FileFault";
import { PasswordFields } from "./PasswordFields";
import { sizeText } from "./told";

/** The household's own data: where it is, its backups, everything out and in, and the password. */
export function YourData() {
  const { data, error } = useQuery(BACKUPS);
  return (
    <div className="mx-auto max-w-5xl px-4 py-4 md:px-6">
      <BackLink to="/accounts" name="Accounts" />
      <h1 className="text-xl">Your data</h1>
      <Alert error={error} />
      {data && (
        <>
          {data.file.fault && <FileFault file={data.file} />}
          <p>
            Everything is in one file on this computer, <code className="break-all">{data.file.path}</code>,{" "}
            {sizeText(data.file.size)}. A copy of it is the whole household; nothing leaves this computer by itself.
          </p>
          <Backups data={data} />
        </>
      )}
      {(data || error) && <OutAndIn />}
    </div>
  );
}

/** What goes out and comes in: everything, the calendar, and who may look. */
function OutAndIn() {
  return (
    <>
      <section aria-label="Everything out" className="mt-8">
        <h2 className="border-b border-rule-strong text-lg">Everything out, and in again</h2>
        <ul className="flex flex-wrap gap-x-8 gap-y-1 py-2">
          {OUT.map(([ending, name, what]) => (
            <li key={ending}>
              <a
                href={`/api/export/next-penny.${ending}`}
                download
                className="inline-flex min-h-9 items-center text-copper underline underline-offset-4"
              >
                {name}
              </a>{" "}
              <span className="text-pencil">{what}</span>
            </li>
          ))}
        </ul>
        <BringPlan />
      </section>
      <CalendarFeed />
      <PasswordFields />
    </>
  );
}

const OUT = [
  ["json", "The whole plan", "all of it, to be read in again"],
  ["csv", "Entries", "a table of every entry"],
  ["xlsx", "Workbook", "accounts, entries, flows, loans, months"],
  ["zip", "Receipts", "the files and their list"],
] as const;
