import { useLayoutEffect } from "react";

let locks = 0;

/**
 * Stands in for the kit's own lock of the page under a sheet (vite.config.ts), which makes a
 * style without the page's nonce: the content policy would refuse it.
 */
export default function useScrollLocker(lock?: boolean): void {
  useLayoutEffect(() => {
    if (!lock) return;
    locks++;
    document.body.dataset.locked = "true";
    return () => {
      locks--;
      if (locks === 0) delete document.body.dataset.locked;
    };
  }, [lock]);
}
