import { useEffect } from "react";
import { useTranslation } from "react-i18next";
import type { LapView } from "../api/client";

/** Where public/first.js finds what it says. */
const name = "fairlap.first";

/** Keeps where the day leads, for the next start of the app. */
export function useKeepFirst(lap: LapView | undefined): void {
  const { t } = useTranslation();
  const text = lap?.stops.map((s) => s.street).join(" · ");
  useEffect(() => {
    if (!text) return;
    try {
      localStorage.setItem(name, JSON.stringify({ day: lap?.day, head: t("lap.first"), text }));
    } catch {
      // The store is shut or full: the next start draws its view first.
    }
  }, [t, lap?.day, text]);
}

/** Forgets it: whoever comes next is not to see it. */
export function forgetFirst(): void {
  try {
    localStorage.removeItem(name);
  } catch {
    // The store is shut: there is nothing in it.
  }
}
