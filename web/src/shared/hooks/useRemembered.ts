import { useState } from "react";

/** A choice between yes and no that this browser remembers. */
export function useRemembered(name: string, begins: boolean): [boolean, (value: boolean) => void] {
  const key = `next-penny-${name}`;
  const [value, setValue] = useState(() => {
    const stored = localStorage.getItem(key);
    return stored === null ? begins : stored === "yes";
  });
  const choose = (next: boolean) => {
    localStorage.setItem(key, next ? "yes" : "no");
    setValue(next);
  };
  return [value, choose];
}
