/** Sizes and errors in words. */
const MEGABYTE = 1_048_576;

/** 0 MB, 340 MB, 1.2 GB. */
export function bytesText(bytes: number): string {
  const megabytes = bytes / MEGABYTE;
  return megabytes < 1000 ? `${Math.floor(megabytes)} MB` : `${(megabytes / 1024).toFixed(1)} GB`;
}

export const messageOf = (error: unknown): string => (error instanceof Error ? error.message : String(error));
