import { useEffect } from "react";

const PAUSE = 2000;

/** The app is not running: how it is started, and on as soon as it answers again. */
export function NotRunning({ onBack }: { onBack: () => void }) {
  useEffect(() => {
    const ask = () =>
      fetch("/api/health").then(
        (answer) => answer.ok && onBack(),
        () => {}, // not yet
      );
    const timer = setInterval(ask, PAUSE);
    return () => clearInterval(timer);
  }, [onBack]);
  return (
    <main className="p-8">
      <h1 className="text-xl">The app is not running.</h1>
      <p className="mt-2" role="status">
        It may have been stopped, or this computer was started anew. Start it as you did before (
        <code>next-penny serve</code>): this page goes on by itself as soon as it answers. What was saved is in your
        file.
      </p>
    </main>
  );
}
