/** A value once it has stayed the same for a moment: for what is asked of the server while one types. */
import { useEffect, useState } from "react";

export function useSettled<T>(value: T, afterMs = 300): T {
  const [settled, setSettled] = useState(value);
  useEffect(() => {
    const timer = setTimeout(() => setSettled(value), afterMs);
    return () => clearTimeout(timer);
  }, [value, afterMs]);
  return settled;
}
