import { useEffect } from "react";

const brand = "Fair Lap";

/** Calls the tab what the page's first heading says, whenever that changes. */
export function useTitle(): void {
  useEffect(() => {
    const call = () => {
      const says = document.querySelector("main h1, header h1")?.textContent?.trim();
      const title = says && says !== brand ? `${says} · ${brand}` : brand;
      if (document.title !== title) document.title = title;
    };
    const watch = new MutationObserver(call);
    watch.observe(document.body, { childList: true, subtree: true, characterData: true });
    call();
    return () => watch.disconnect();
  }, []);
}
