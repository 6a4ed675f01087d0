/** The one door to the server. A failed request becomes an ApiFailure with the server's own words. */
import { type ApiError, type Packed, unpackColumns } from "@plan-tester/contract";

export class ApiFailure extends Error {
  readonly code: string;
  readonly details: Readonly<Record<string, unknown>>;

  constructor(code: string, message: string, details: Readonly<Record<string, unknown>> = {}) {
    super(message);
    this.name = "ApiFailure";
    this.code = code;
    this.details = details;
  }
}

/** Requests that outlive their page may carry this much in all, bytes; browsers refuse more (Fetch standard, keepalive). */
const MAX_KEEPALIVE_BYTES = 60_000;

async function request(method: string, path: string, body?: BodyInit, contentType?: string, outlivesPage = false): Promise<Response> {
  let response: Response;
  try {
    response = await fetch(`/api${path}`, {
      method,
      body: body ?? null,
      keepalive: outlivesPage && typeof body === "string" && new Blob([body]).size <= MAX_KEEPALIVE_BYTES,
      ...(contentType ? { headers: { "Content-Type": contentType } } : {}),
    });
  } catch {
    throw new ApiFailure(
      "unavailable",
      "The server does not answer. Is npm start still running? Changes to plans are kept in this browser and sent when it answers.",
    );
  }
  if (response.ok) return response;
  const answer = (await response.json().catch(() => null)) as ApiError | null;
  throw new ApiFailure(
    answer?.error.code ?? "unavailable",
    answer?.error.message ?? `The server answered ${response.status}.`,
    answer?.error.details,
  );
}

const json = (value: unknown): [string, string] => [JSON.stringify(value), "application/json"];

export const api = {
  get: async <T>(path: string): Promise<T> => (await request("GET", path)).json() as Promise<T>,
  post: async <T>(path: string, body: unknown = {}): Promise<T> => (await request("POST", path, ...json(body))).json() as Promise<T>,
  put: async <T>(path: string, body: unknown, outlivesPage = false): Promise<T> =>
    (await request("PUT", path, ...json(body), outlivesPage)).json() as Promise<T>,
  delete: async (path: string): Promise<void> => void (await request("DELETE", path)),
  upload: async <T>(path: string, file: Blob): Promise<T> => (await request("POST", path, file, "text/csv")).json() as Promise<T>,
  columns: async <Meta>(path: string): Promise<Packed<Meta>> => unpackColumns<Meta>(await (await request("GET", path)).arrayBuffer()),
};

export function messageOf(error: unknown): string {
  return error instanceof Error ? error.message : String(error);
}
