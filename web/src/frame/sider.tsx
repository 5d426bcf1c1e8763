import { Badge, Button } from "antd";
import { useTranslation } from "react-i18next";
import { Link, NavLink, useMatch } from "react-router";
import { api, type Me } from "../api/client";
import { useWaiting } from "../kept/waiting";
import { now } from "../parts/clock";
import { day } from "../parts/format";
import { Brand, Float, Tool } from "../parts/glyphs";
import { StateMark } from "../parts/state-mark";
import { useMe } from "./me";
import { useOver } from "./over";
import { mainPlaces, morePlaces } from "./places";
import styles from "./sider.module.css";

/** The side of a desk: whose day it is, the way about, the lane of today's stops. */
export function Sider() {
  const { t } = useTranslation();
  const me = useMe();
  const open = useOver();
  const waits = useWaiting().length;
  const office = morePlaces(me).filter((p) => p.mark);
  return (
    <aside className={styles.sider} aria-label={t("strip.side")} id="side">
      <div className={styles.brand}>
        <Brand />
        <strong>{t("brand")}</strong>
        <span className={styles.who}>
          {day(now())} · <Link to="/account">{me.name}</Link>
          {me.demo && <span className="quiet">{t("strip.demo")}</span>}
        </span>
      </div>
      <Button className={styles.find} id="find" onClick={() => open("find")}>
        <Tool name="find" />
        <span>{t("find.open")}</span>
        <kbd>{t("find.key")}</kbd>
      </Button>
      <nav className={styles.places} aria-label={t("strip.sections")}>
        {[...mainPlaces, ...office].map((p) => (
          <NavLink key={p.to} to={p.to} end={p.to === "/"}>
            <Tool name={p.mark ?? ""} size={22} />
            <span>{t(p.name)}</span>
            {p.to === "/waiting" && waits > 0 && <Badge count={waits} title={t("waiting.count", { count: waits })} />}
          </NavLink>
        ))}
        <button type="button" id="more" onClick={() => open("more")}>
          <Tool name="more" size={22} />
          <span>{t("nav.more")}</span>
        </button>
      </nav>
      {me.role === "technician" && <Lane me={me} />}
    </aside>
  );
}

/** Today's stops as floats on a lane. */
function Lane({ me }: { me: Me }) {
  const { t } = useTranslation();
  const current = useMatch("/stops/:id")?.params.id;
  const lap = api.useQuery("get", "/api/v1/lap", {}, { enabled: me.role === "technician" });
  return (
    <ol className={styles.lane} aria-label={t("strip.label")}>
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
  );
}
