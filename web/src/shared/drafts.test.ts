import { beforeEach, expect, test, vi } from "vitest";
import { fitting, readDraft, removeDraft, writeDraft } from "./drafts";

/** What a browser keeps: names in the order in which they were written. */
class Kept {
  [name: string]: unknown;
  getItem(name: string) {
    return Object.hasOwn(this, name) ? this[name] : null;
  }
  setItem(name: string, text: string) {
    this[name] = text;
  }
  removeItem(name: string) {
    delete this[name];
  }
}

beforeEach(() => vi.stubGlobal("localStorage", new Kept()));

test("a draft is there again until it is taken away, and others with it", () => {
  writeDraft("flow:new", { name: "Choir", parts: [{ amount: "8" }] });
  writeDraft("entry:new", { payee: "Baker" });
  expect(readDraft("flow:new")).toEqual({ name: "Choir", parts: [{ amount: "8" }] });
  removeDraft("flow:new");
  expect(readDraft("flow:new")).toBeNull();
  expect(readDraft("entry:new")).toEqual({ payee: "Baker" });
});

test("the forty that were written last stay, and what is no draft is left alone", () => {
  localStorage.setItem("guide", "done");
  for (let number = 0; number < 60; number += 1) writeDraft(`d${number}`, number);
  writeDraft("d20", "again");
  expect(readDraft("d19")).toBeNull();
  expect(readDraft("d20")).toBe("again");
  for (let number = 22; number < 60; number += 1) expect(readDraft(`d${number}`)).toBe(number);
  expect(localStorage.getItem("guide")).toBe("done");
});

test("a browser that keeps nothing, or something else, gives no draft and no error", () => {
  localStorage.setItem("draft broken", "{");
  expect(readDraft("broken")).toBeNull();
  vi.stubGlobal("localStorage", undefined);
  writeDraft("any", 1);
  removeDraft("any");
  expect(readDraft("any")).toBeNull();
});

test("of what an older version kept, what has its shape is taken up, and the rest is as it was", () => {
  const form = { name: "", once: false, dates: [{ day: "", amount: "" }], card: { limit: "" }, receipt: null };
  const kept = {
    name: "Choir",
    once: true,
    dates: [{ day: "2027-04-01", amount: "8" }],
    card: { limit: "5" },
    receipt: {},
  };
  expect(fitting(form, kept)).toEqual(kept);
  const older = { ...kept, once: "yes", dates: ["2027-04-01"], card: { most: "5" }, gone: 1 };
  expect(fitting(form, older)).toEqual({ name: "Choir", receipt: {} });
  for (const odd of [null, "text", 5, []]) expect(fitting(form, odd)).toEqual({});
});
