/** Errors on the wire: the code decides the status, once and here. */
import type { ApiError } from "@plan-tester/contract";
import { type ErrorCode, PlanTesterError } from "@plan-tester/core";
import type { ErrorRequestHandler } from "express";
import type { Logger } from "pino";

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
  unavailable: 503,
};

export function errorBody(error: unknown): ApiError {
  if (error instanceof PlanTesterError) return { error: { code: error.code, message: error.message, details: error.details } };
  return {
    error: {
      code: "unavailable",
      message: "Something went wrong inside the server. Its log has the details; your work is saved.",
      details: {},
    },
  };
}

export function errorHandler(logger: Logger): ErrorRequestHandler {
  return (error, request, response, _next) => {
    const known = error instanceof PlanTesterError;
    const httpStatus = typeof error?.status === "number" && error.status >= 400 && error.status < 500 ? (error.status as number) : null;
    if (!known && httpStatus === null) logger.error({ error, path: request.path }, "request failed");
    if (response.headersSent) return void response.end();
    if (!known && httpStatus !== null)
      return void response.status(httpStatus).json({ error: { code: "bad-input", message: String(error.message), details: {} } });
    response.status(known ? STATUS[error.code] : 500).json(errorBody(error));
  };
}
