import { api, server } from "@/shared/api/client";
import { useRefresh } from "@/shared/api/hooks";
import { Button } from "@/shared/kit/Button";
import { useToast } from "@/shared/kit/Toast";

const LOOPBACK = ["127.0.0.1", "localhost", "[::1]"];

/** What is due, in the household's own calendar: a secret address that a calendar program reads. */
export function CalendarFeed() {
  const refresh = useRefresh();
  const toast = useToast();
  const { data } = server.useQuery("get", "/api/calendar/feed");
  const renew = async () => {
    await api.post("/api/calendar");
    toast(data?.path ? "The calendar has another address; the old one leads nowhere." : "The calendar has an address.");
    void refresh();
  };
  const end = async () => {
    await api.delete("/api/calendar");
    toast("The calendar's address leads nowhere now.");
    void refresh();
  };
  const address = data?.path ? window.location.origin + data.path : null;
  return (
    <section aria-label="Your calendar" className="mt-8">
      <h2 className="border-b border-rule-strong text-lg">In your calendar</h2>
      <p className="py-2">
        Bills, paydays, loan and card payments and low points of the coming year, kept up to date by any calendar
        program that subscribes to an address. A flow rings as many days before as its slip says.
      </p>
      {address ? (
        <>
          <p className="flex flex-wrap items-center gap-2">
            <code className="break-all">{address}</code>
            <Button
              className="!min-h-9"
              onClick={() => navigator.clipboard.writeText(address).then(() => toast("Copied."))}
            >
              Copy
            </Button>
            <a
              href={data?.path ?? ""}
              download="next-penny.ics"
              className="inline-flex min-h-9 items-center text-copper underline underline-offset-4"
            >
              As a file
            </a>
          </p>
          <p className="py-1 text-pencil">
            Who knows this address can read what is in it, without the password.{" "}
            {LOOPBACK.includes(window.location.hostname)
              ? "Only programs on this computer reach it; a phone does not. For that, set a password and start the app with --host and --allow-host."
              : "Programs on other computers reach it under the name that this page has."}
          </p>
          <p className="flex flex-wrap gap-2">
            <Button onClick={renew}>Another address</Button>
            <Button look="danger" onClick={end}>
              End it
            </Button>
          </p>
        </>
      ) : (
        <Button onClick={renew}>Make an address</Button>
      )}
    </section>
  );
}
