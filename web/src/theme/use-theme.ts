import { useSyncExternalStore } from "react";

export type Theme = "light" | "dark";
const key = "fairlap.theme";

/** Light for sun by default; dark on request, kept on this device. */
let theme: Theme = localStorage.getItem(key) === "dark" ? "dark" : "light";
const heard = new Set<() => void>();

function show(next: Theme) {
  theme = next;
  document.documentElement.dataset.theme = next;
  localStorage.setItem(key, next);
  for (const tell of heard) tell();
}
show(theme);

const listen = (tell: () => void) => {
  heard.add(tell);
  return () => heard.delete(tell);
};

/** The theme that the whole page is in, and the other one's switch. */
export function useTheme(): [Theme, () => void] {
  const now = useSyncExternalStore(listen, () => theme);
  return [now, () => show(now === "light" ? "dark" : "light")];
}
