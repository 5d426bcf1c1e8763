import { useEffect } from "react";
import { useWaiting } from "./waiting";

/** How much waits stands on the app's own sign, where the device has one. */
export function useBadge(): void {
  const waits = useWaiting().length;
  useEffect(() => {
    const { setAppBadge, clearAppBadge } = navigator as Partial<Navigator>;
    const set = waits ? setAppBadge?.call(navigator, waits) : clearAppBadge?.call(navigator);
    set?.catch(() => undefined); // not installed: there is no sign
  }, [waits]);
}
