/** Errors on the wire: the code decides the status, once and here. */
import type { ApiError } from "@plan-tester/contract";
import { type ErrorCode, PlanTesterError } from "@plan-tester/core";
import type { ErrorRequestHandler } from "express";
import type { Logger } from "pino";
import { requestId } from "./request-log.ts";

const STATUS: Readonly<Record<ErrorCode, number>> = {
  "bad-input": 400,
  "bad-bars": 422,
  "bad-calendar": 422,
  "bad-instrument": 422,
  "bad-plan": 422,
  "bad-settings": 422,
  "bad-study": 422,
  "bad-timeframe": 422,
  "bad-order": 422,
  "plan-error": 422,
  "not-found": 404,
  conflict: 409,
  limit: 413,
  stopped: 409,
  storage: 507,
  unavailable: 503,
};

/** @param request its id, under which the log has the details. */
export function errorBody(error: unknown, request = ""): ApiError {
  if (error instanceof PlanTesterError) return { error: { code: error.code, message: error.message, details: error.details } };
  return {
    error: {
      code: "unavailable",
      message: `Something went wrong inside the server, and what you asked for may not have been done. The log in the data folder has the details${request ? ` (request ${request})` : ""}.`,
      details: {},
    },
  };
}

export function errorHandler(logger: Logger): ErrorRequestHandler {
  return (error, request, response, _next) => {
    const known = error instanceof PlanTesterError;
    const id = requestId(response);
    const httpStatus = typeof error?.status === "number" && error.status >= 400 && error.status < 500 ? (error.status as number) : null;
    if (!known && httpStatus === null) logger.error({ err: error, request: id, path: request.path }, "request failed");
    if (known && error.code === "storage") logger.error({ err: error, request: id, path: request.path }, "request not written down");
    response.locals.errorCode = known ? error.code : "bad-input";
    if (response.headersSent) return void response.end();
    if (!known && httpStatus !== null)
      return void response.status(httpStatus).json({ error: { code: "bad-input", message: String(error.message), details: {} } });
    response.status(known ? STATUS[error.code] : 500).json(errorBody(error, id));
  };
}
