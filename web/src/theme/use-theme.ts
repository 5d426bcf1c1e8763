import { useSyncExternalStore } from "react";

export type Theme = "light" | "dark";
/** What somebody chose; empty is as their device has it. */
export type Shade = Theme | "";

const key = "fairlap.theme";
const device = matchMedia("(prefers-color-scheme: dark)");
const heard = new Set<() => void>();

const known = (text: string | null): Shade => (text === "dark" || text === "" ? text : "light");

/** Light for sun until somebody chooses; the last choice on this device stands before anybody signs in. */
let shade: Shade = known(localStorage.getItem(key));

const themeNow = (): Theme => (shade === "" ? (device.matches ? "dark" : "light") : shade);

function show(): void {
  document.documentElement.dataset.theme = themeNow();
  for (const tell of heard) tell();
}
show();
device.addEventListener("change", show);

/** Shows the pages in a shade from now on. */
export function setShade(next: Shade): void {
  if (next === shade) return;
  shade = next;
  localStorage.setItem(key, next);
  show();
}

const listen = (tell: () => void) => {
  heard.add(tell);
  return () => heard.delete(tell);
};

/** The theme that the whole page is in. */
export const useTheme = (): Theme => useSyncExternalStore(listen, themeNow);
