import { useSyncExternalStore } from "react";

const wide = matchMedia("(min-width: 1000px)");

const watch = (told: () => void) => {
  wide.addEventListener("change", told);
  return () => wide.removeEventListener("change", told);
};

/** True on a desk: the side stands where a phone has its bar. */
export const useWide = () => useSyncExternalStore(watch, () => wide.matches);
