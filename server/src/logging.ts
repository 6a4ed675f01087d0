/** The server's log: what is done at info level, in a file of the data folder that is rotated; warnings on the screen too. */
import { join } from "node:path";
import { type Logger, pino, stdSerializers, type TransportTargetOptions, transport } from "pino";

const LEVELS = ["trace", "debug", "info", "warn", "error", "fatal", "silent"];
const MOST_MEGABYTES = 10;
const OLD_FILES = 5;

/** @throws Error when LOG_LEVEL is no level. */
export function makeLogger(dataFolder: string, level = "info"): Logger {
  if (!LEVELS.includes(level)) throw new Error(`LOG_LEVEL is ${level}; it must be one of ${LEVELS.join(", ")}.`);
  const file = {
    target: "pino-roll",
    level,
    options: {
      file: join(dataFolder, "logs", "server"),
      extension: ".log",
      size: `${MOST_MEGABYTES}m`,
      limit: { count: OLD_FILES },
      mkdir: true,
    },
  };
  const screen = { target: "pino/file", level: "warn", options: { destination: 2 } };
  // `error` too is written out: as a plain object it would be {}.
  const serializers = { err: stdSerializers.err, error: stdSerializers.err };
  const targets: TransportTargetOptions[] = [file, screen];
  return pino({ level, serializers }, transport({ targets }));
}
