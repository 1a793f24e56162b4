/** What was begun and not saved stays in this browser, by name. */
const PREFIX = "draft ";
// Nobody comes back to more half-done things than that.
const MOST = 40;

// A browser may keep nothing, or be full: a slip works without its draft.
export function readDraft(name: string): unknown {
  try {
    return JSON.parse(localStorage.getItem(PREFIX + name) ?? "null");
  } catch {
    return null;
  }
}

export function writeDraft(name: string, values: unknown) {
  try {
    localStorage.removeItem(PREFIX + name);
    const draftKeys = Object.keys(localStorage).filter((oneName) => oneName.startsWith(PREFIX));
    for (const old of draftKeys.slice(0, Math.max(0, draftKeys.length - MOST + 1))) localStorage.removeItem(old);
    localStorage.setItem(PREFIX + name, JSON.stringify(values));
  } catch {
    // It is not kept.
  }
}

export function removeDraft(name: string) {
  try {
    localStorage.removeItem(PREFIX + name);
  } catch {
    // There was none.
  }
}
