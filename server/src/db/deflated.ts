/** Bytes as the database keeps them: compressed off the server's thread. */
import { promisify } from "node:util";
import { deflateRaw, inflateRaw } from "node:zlib";

const deflateBytes = promisify(deflateRaw);

/** Fast rather than small: what is written often is written soon. */
export const deflated = (bytes: Uint8Array): Promise<Buffer> => deflateBytes(bytes, { level: 1 });
export const inflated: (bytes: Uint8Array) => Promise<Buffer> = promisify(inflateRaw);
