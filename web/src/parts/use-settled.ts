import { useEffect, useState } from "react";

/** Milliseconds of quiet before the engine is asked. */
const pause = 300;

/** A value once it has stopped changing. */
export function useSettled<T>(value: T): T {
  const [settled, setSettled] = useState(value);
  useEffect(() => {
    const id = setTimeout(() => setSettled(value), pause);
    return () => clearTimeout(id);
  }, [value]);
  return settled;
}
