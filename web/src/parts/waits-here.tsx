import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { useMe } from "../frame/me";
import { useFailing } from "../kept/use-sender";
import { useWaiting } from "../kept/waiting";
import { StateMark } from "./state-mark";
import { waitsFor } from "./waits-for";

/** What was done to a pool on this device and is not on record yet: what the page shows is without it. */
export function WaitsHere({ pool }: { pool: string }) {
  const { t } = useTranslation();
  const me = useMe();
  const failing = useFailing();
  const here = useWaiting().filter((w) => w.who === me.id && w.pool === pool);
  if (here.length === 0 || (!failing && here.every((w) => !w.refused))) return null;
  return (
    <p className="state-line" role="status" id="waits-here">
      <StateMark mark="act" />
      <span>
        {t("waiting.here", { what: here.map((w) => waitsFor(t, w)).join(", ") })}{" "}
        <Link to="/waiting">{t("waiting.open")}</Link>
      </span>
    </p>
  );
}
