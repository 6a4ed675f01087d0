import { join } from "node:path";
import { BUNDLE_LIMITS } from "@plan-tester/contract";
import { type HandlersOf, Pieces } from "../../http/serve.ts";
import { withUpload } from "../../http/upload.ts";
import type { BundleReader } from "./bundle-reader.ts";
import type { BundleWriter } from "./bundle-writer.ts";

export function bundleHandlers(
  writer: BundleWriter,
  reader: BundleReader,
  dataFolder: string,
): HandlersOf<"makeBundle" | "openBundle" | "stopBundle"> {
  return {
    makeBundle: async ({ body }) => new Pieces(await writer.write(body)),
    openBundle: ({ params: { id } }, request) =>
      withUpload(request, join(dataFolder, "incoming"), `${id}.zip`, BUNDLE_LIMITS.packedBytes, (file) => reader.open(id, file)),
    stopBundle: ({ params }) => reader.stop(params.id),
  };
}
