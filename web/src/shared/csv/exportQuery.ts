/** What a file is asked for, with the what-if that is looked at: it says what the page says. */
export function exportQuery(query: Record<string, string>): URLSearchParams {
  const whatIf = new URLSearchParams(window.location.search).get("what_if");
  return new URLSearchParams({ ...query, ...(whatIf && { what_if: whatIf }) });
}
