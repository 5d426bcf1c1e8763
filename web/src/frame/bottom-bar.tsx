import { Badge } from "antd";
import { useTranslation } from "react-i18next";
import { NavLink } from "react-router";
import { useWaiting } from "../kept/waiting";
import { Tool } from "../parts/glyphs";
import styles from "./bottom-bar.module.css";
import { useOver } from "./over";
import { mainPlaces } from "./places";

/** A phone's way about: always under the thumb. */
export function BottomBar() {
  const { t } = useTranslation();
  const open = useOver();
  const waits = useWaiting().length;
  return (
    <nav className={styles.bar} aria-label={t("strip.sections")} id="bar">
      {mainPlaces.map((p) => (
        <NavLink key={p.to} to={p.to} end={p.to === "/"} state={p.to === "/pools" ? { find: true } : undefined}>
          <Badge count={p.to === "/waiting" ? waits : 0} size="small" title="">
            <Tool name={p.mark ?? ""} size={24} />
          </Badge>
          <span>{t(p.name)}</span>
          {p.to === "/waiting" && waits > 0 && <span className="sr">{t("waiting.count", { count: waits })}</span>}
        </NavLink>
      ))}
      <button type="button" id="more" onClick={() => open("more")}>
        <Tool name="more" size={24} />
        <span>{t("nav.more")}</span>
      </button>
    </nav>
  );
}
