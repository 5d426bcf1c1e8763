import { useTranslation } from "react-i18next";
import { Link, NavLink } from "react-router";
import { api, type Me } from "../api/client";
import { useTheme } from "../theme/use-theme";
import { day, now } from "./format";
import { Brand, Float } from "./glyphs";
import { StateMark } from "./state-mark";

/** The left strip: whose day it is, the lane of stops, the sections. */
export function Strip({ me, current, onSignOut }: { me: Me; current?: string; onSignOut: () => void }) {
  const { t } = useTranslation();
  const [theme, toggle] = useTheme();
  const lap = api.useQuery("get", "/api/v1/lap", {}, { enabled: me.role === "technician" });
  return (
    <aside className="strip" aria-label={t("strip.label")}>
      <div className="brand">
        <Brand />
        <strong>{t("brand")}</strong>
        <span className="date">
          {day(now())} · <Link to="/account">{me.name}</Link>
        </span>
        {me.demo && <span className="demo-note">{t("strip.demo")}</span>}
      </div>
      <ol className="lane">
        {lap.data?.stops.map((s) => (
          <li key={s.id} className={s.state} aria-current={s.id === current || undefined}>
            <Link to={`/stops/${s.id}`}>
              <Float state={s.state} />
              <span className="who">{s.street}</span>
              <span className="why">
                <StateMark mark={s.reason.mark} size={14} />
                {s.reason.word}
              </span>
              <span className="sr">{t(`stop.${s.state}`)}</span>
            </Link>
          </li>
        ))}
      </ol>
      <nav className={me.role === "technician" ? "sections" : "sections desk"} aria-label={t("strip.sections")}>
        <NavLink to="/">{t("nav.lap")}</NavLink>
        <NavLink to="/week">{t("nav.week")}</NavLink>
        <NavLink to="/pools">{t("nav.pools")}</NavLink>
        {me.role !== "technician" && <NavLink to="/office">{t("nav.office")}</NavLink>}
        <button type="button" onClick={toggle}>
          {t(theme === "light" ? "nav.dark" : "nav.light")}
        </button>
        <button type="button" onClick={onSignOut}>
          {t("nav.signOut")}
        </button>
      </nav>
    </aside>
  );
}
