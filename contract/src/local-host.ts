/** Names under which this machine is asked for. A name that resolves here by trickery has another Host. */
const LOCAL_NAMES: ReadonlySet<string> = new Set(["localhost", "127.0.0.1", "[::1]"]);

/** Whether a Host header, with or without its port, names this machine. */
export const isLocalHost = (host: string | undefined): boolean =>
  host !== undefined && LOCAL_NAMES.has(host.replace(/:\d+$/, "").toLowerCase());
