import { useEffect } from "react";
import { useNavigate } from "react-router";
import { api } from "../../api/client";
import { isShortcut } from "../../frame/use-keys";

const focus = (selector: string) => document.querySelector<HTMLElement>(selector)?.focus();

/** The bench's keys: . and , along the lap, g the gauges, e seen or heard, n next check, Enter the main action. */
export function useBenchKeys(stop: string) {
  const go = useNavigate();
  const lap = api.useQuery("get", "/api/v1/lap", {}, { retry: false });
  const stops = lap.data?.stops;
  useEffect(() => {
    const onKey = (e: KeyboardEvent) => {
      if (!isShortcut(e)) return;
      const at = stops?.findIndex((s) => s.id === stop) ?? -1;
      const to = e.key === "." ? stops?.[at + 1] : e.key === "," ? stops?.[at - 1] : undefined;
      if (to) go(`/stops/${to.id}`);
      else if (e.key === "g") focus("#readings input");
      else if (e.key === "e") focus("[data-sign]");
      else if (e.key === "n") focus("#next-yes");
      else if (e.key === "Enter" && e.target === document.body) document.getElementById("open-log")?.click();
      else return;
      e.preventDefault();
    };
    addEventListener("keydown", onKey);
    return () => removeEventListener("keydown", onKey);
  }, [stop, stops, go]);
}
