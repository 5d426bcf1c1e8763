import { useEffect } from "react";
import type { Over } from "./over";

const typing = (e: KeyboardEvent) =>
  e.target instanceof HTMLElement && /^(INPUT|TEXTAREA|SELECT)$/.test(e.target.tagName);

/** True when a key belongs to the page and not to a field, a sheet or the browser. */
export function isShortcut(e: KeyboardEvent): boolean {
  return (
    !typing(e) &&
    !e.ctrlKey &&
    !e.metaKey &&
    !e.altKey &&
    !document.querySelector(".ant-modal-wrap:not([style*='none']), .ant-drawer-open")
  );
}

/** The keys that work everywhere. */
export function useKeys(open: (what: Over) => void): void {
  useEffect(() => {
    const onKey = (e: KeyboardEvent) => {
      if (!isShortcut(e)) return;
      if (e.key === "h") open("keys");
      else if (e.key === "f") open("find");
      else return;
      e.preventDefault();
    };
    addEventListener("keydown", onKey);
    return () => removeEventListener("keydown", onKey);
  }, [open]);
}
