// The bar thread from its TypeScript source, when the server runs unbundled.
import { register } from "tsx/esm/api";

register();
export const { seriesOf, continued, resampled, hashed, outside, independent, read, rules, earnings, imports, storageFacts, compact } =
  await import("./tasks.ts");
