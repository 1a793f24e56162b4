import { expect, test } from "vitest";
import { flagOf } from "./Flags";

test("what is written at a low point stays within the picture, however long it is", () => {
  const scales = { x: (day: number) => day - 740_000, y: () => 0 };
  const picture = { scales, width: 1000, currency: "USD", today: "2027-03-01" } as Parameters<typeof flagOf>[1];
  for (const headroom of [-5_797, -123_456_789_00])
    for (const date of ["2027-03-01", "2028-01-12", "2029-11-28"]) {
      const { text, middle, width } = flagOf({ date, balance: headroom, headroom }, picture);
      expect(width).toBeGreaterThan(text.length * 6);
      expect(middle + width / 2).toBeLessThanOrEqual(1000);
    }
});
