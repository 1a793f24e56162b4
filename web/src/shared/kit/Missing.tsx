/** What a page says in place of its subject, which is not there. */
export function Missing({ error }: { error: Error }) {
  return (
    <div role="alert">
      <h1 className="text-lg">{error.message}</h1>
    </div>
  );
}
