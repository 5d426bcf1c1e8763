import { useEffect, useState } from "react";

export type Theme = "light" | "dark";
const key = "fairlap.theme";

function saved(): Theme {
  return localStorage.getItem(key) === "dark" ? "dark" : "light";
}

/** Light for sun by default; dark on request, kept on this device. */
export function useTheme(): [Theme, () => void] {
  const [theme, setTheme] = useState<Theme>(saved);
  useEffect(() => {
    document.documentElement.dataset.theme = theme;
    localStorage.setItem(key, theme);
  }, [theme]);
  return [theme, () => setTheme((t) => (t === "light" ? "dark" : "light"))];
}
