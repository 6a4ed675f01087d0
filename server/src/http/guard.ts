/**
 * The server speaks to this machine only, and its API to its own pages and to programs. A name that resolves here by trickery
 * has another Host; a page of anybody else, another port of this machine included, has another Origin or says itself that it
 * is of another site. All are turned away before anything else happens.
 */
import { isLocalHost } from "@plan-tester/contract";
import type { RequestHandler } from "express";

export const localOnly: RequestHandler = (request, response, next) => {
  const { host, origin } = request.headers;
  const refuse = (what: string): void =>
    void response.status(403).json({
      error: { code: "bad-input", message: `${what} Open Plan Tester by its address on this machine, http://localhost.`, details: {} },
    });
  if (!isLocalHost(host)) return refuse(`The host "${host ?? ""}" is not this machine.`);
  const site = request.headers["sec-fetch-site"];
  const isApi = request.path.startsWith("/api");
  // A page elsewhere may lead here, as any link does; it may not ask the API for anything.
  const isForeign =
    (origin !== undefined && origin !== `http://${host}`) ||
    site === "cross-site" ||
    (isApi && site !== undefined && site !== "same-origin" && site !== "none");
  if (isForeign) return refuse("Requests from other sites are not taken.");
  next();
};

export const safeHeaders: RequestHandler = (_request, response, next) => {
  response.setHeader("X-Content-Type-Options", "nosniff");
  response.setHeader("Referrer-Policy", "no-referrer");
  response.setHeader("Cross-Origin-Opener-Policy", "same-origin");
  response.setHeader("Cross-Origin-Resource-Policy", "same-origin");
  response.setHeader(
    "Content-Security-Policy",
    "default-src 'self'; script-src 'self'; worker-src 'self' blob:; style-src 'self' 'unsafe-inline'; img-src 'self' data: blob:; font-src 'self' data:; connect-src 'self'; frame-ancestors 'none'; base-uri 'none'; form-action 'self'",
  );
  next();
};

const utf8 = new TextDecoder("utf-8", { fatal: true });

/** A body that is not UTF-8 would be read with signs in place of what could not be read, and so be saved. */
export function refuseBrokenText(_request: unknown, _response: unknown, body: Buffer): void {
  try {
    utf8.decode(body);
  } catch {
    throw Object.assign(new Error("The request is not text in UTF-8."), { status: 400 });
  }
}
