import { useEffect, useRef } from "react";

const brand = "Fair Lap";
const heading = () => document.querySelector<HTMLElement>("main h1, header h1");

/** Calls the tab what the page's first heading says, and takes a reader there when the page is another. */
export function useHeading(page: string): void {
  const came = useRef<string | null>(null);
  useEffect(() => {
    // The page that the browser opened begins at its own top.
    let due = came.current !== null && came.current !== page;
    came.current = page;
    const call = () => {
      const h = heading();
      const says = h?.textContent?.trim();
      const title = says && says !== brand ? `${says} · ${brand}` : brand;
      if (document.title !== title) document.title = title;
      if (!due || !h || h.dataset.waits !== undefined) return;
      due = false;
      // A field that the page opened by itself keeps what it was given.
      if (document.activeElement?.closest("main, [role=dialog]")) return;
      h.tabIndex = -1;
      h.focus({ preventScroll: true });
    };
    const watch = new MutationObserver(call);
    watch.observe(document.body, { childList: true, subtree: true, characterData: true });
    call();
    return () => watch.disconnect();
  }, [page]);
}
