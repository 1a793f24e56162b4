import * as z from "zod/mini";

// It would write and run code of its own, which the policy of the page forbids.
z.config({ jitless: true });

export { z };
