import { useEffect, useSyncExternalStore } from "react";
import { useLocation } from "react-router";
import type { Workbox } from "workbox-window";

/** Milliseconds that a page has the line to itself before the app is fetched for days without one. */
const quiet = 6000;
/** Milliseconds between looks for a newer version on a page that stays open. */
const lookAgain = 3_600_000;

/** How this page stands to the version that the device has: a newer one waits, or was taken elsewhere. */
type Version = "current" | "newer" | "taken";
let version: Version = "current";
let worker: Workbox | undefined;
const heard = new Set<() => void>();

function tell(is: Version): void {
  version = is;
  for (const hear of heard) hear();
}

/** Fetches the app for days without a line, once the page is quiet. */
export function startWorker(): void {
  if (!("serviceWorker" in navigator)) return;
  const start = async () => {
    const { Workbox } = await import("workbox-window");
    const own = new Workbox("/sw.js");
    worker = own;
    own.addEventListener("waiting", () => tell("newer"));
    own.addEventListener("controlling", ({ isUpdate }) => isUpdate && tell("taken"));
    own.register().catch(() => undefined);
    setInterval(() => own.update().catch(() => undefined), lookAgain);
  };
  addEventListener("load", () => setTimeout(() => start().catch(() => undefined), quiet));
}

/** Takes the newer version, which opens the page anew; what is typed is kept. */
export function takeNewer(): void {
  worker?.addEventListener("controlling", () => location.reload());
  worker?.messageSkipWaiting();
}

const onVersion = (hear: () => void) => {
  heard.add(hear);
  return () => heard.delete(hear);
};

/**
 * Whether a newer version waits. It is taken by itself on the way to another page, where nobody
 * is in the middle of something, and never on a page that is in a run.
 */
export function useNewer(): boolean {
  const is = useSyncExternalStore(onVersion, () => version);
  const { pathname } = useLocation();
  // biome-ignore lint/correctness/useExhaustiveDependencies: looked at as a page is opened, not as a version comes
  useEffect(() => {
    if (pathname.startsWith("/runs/")) return;
    if (is === "taken") location.reload();
    if (is === "newer" && pathname === "/") takeNewer();
  }, [pathname]);
  return is === "newer";
}
