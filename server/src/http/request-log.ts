/** Each request has an id, which its error tells; refusals and slow requests are logged. */
import { randomUUID } from "node:crypto";
import type { RequestHandler } from "express";
import type { Logger } from "pino";

const SLOW_MS = 1000;

export const requestId = (response: { readonly locals: Record<string, unknown> }): string => String(response.locals.requestId ?? "");

export function requestLog(logger: Logger): RequestHandler {
  return (request, response, next) => {
    const id = randomUUID().slice(0, 8);
    response.locals.requestId = id;
    const began = performance.now();
    const { method, path } = request;
    response.on("finish", () => {
      const tookMs = Math.round(performance.now() - began);
      const about = { request: id, method, path, status: response.statusCode, tookMs };
      if (response.statusCode >= 400) logger.info({ ...about, code: response.locals.errorCode }, "request refused");
      // What stays open on purpose is never finished: the event stream.
      else if (tookMs > SLOW_MS) logger.info(about, "slow request");
      else if (method !== "GET") logger.debug(about, "request");
    });
    next();
  };
}
