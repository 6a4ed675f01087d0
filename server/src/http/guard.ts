/**
 * The server speaks to this machine only. A name that resolves here by trickery has another Host; a page of another site
 * has another Origin; both are turned away before anything else happens.
 */
import { isLocalHost } from "@plan-tester/contract";
import type { RequestHandler } from "express";

function originIsLocal(origin: string): boolean {
  try {
    return isLocalHost(new URL(origin).host);
  } catch {
    return false;
  }
}

export const localOnly: RequestHandler = (request, response, next) => {
  const { host, origin } = request.headers;
  const refuse = (what: string): void =>
    void response.status(403).json({
      error: { code: "bad-input", message: `${what} Open Plan Tester by its address on this machine, http://localhost.`, details: {} },
    });
  if (!isLocalHost(host)) return refuse(`The host "${host ?? ""}" is not this machine.`);
  if (origin !== undefined && !originIsLocal(origin)) return refuse("Requests from other sites are not taken.");
  if (request.headers["sec-fetch-site"] === "cross-site") return refuse("Requests from other sites are not taken.");
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
