import { Button } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { api, fieldSays, type PoolAbout, type Problem } from "../../api/client";
import { useChanged } from "../../api/use-changed";
import { now } from "../../parts/clock";
import { FigureField } from "../../parts/figure-field";
import { longDay } from "../../parts/format";
import { readFigure } from "../../parts/read-figure";
import { StateMark } from "../../parts/state-mark";
import styles from "./about.module.css";

/** The customer's ways to the pool's papers: secret, ending, revocable. */
export function Links({ about }: { about: PoolAbout }) {
  const { t } = useTranslation();
  const changed = useChanged();
  const [days, setDays] = useState("90");
  const again = { onSuccess: () => changed("beside") };
  const open = api.useMutation("post", "/api/v1/pools/{id}/links", again);
  const end = api.useMutation("delete", "/api/v1/pools/{id}/links/{link}", again);
  const made = open.data && `${window.location.origin}/shared/${open.data.secret}`;
  const living = about.links.filter((l) => !l.revokedAt && new Date(l.expiresAt) > now());
  return (
    <section>
      <h2>{t("links.title")}</h2>
      <p className="quiet">{t("links.what")}</p>
      {made && (
        <p className="state-line" role="status">
          <StateMark mark="fine" />
          <span>
            {t("links.once")}{" "}
            <a className={styles.secret} id="link-made" href={made} target="_blank" rel="noreferrer">
              {made}
            </a>
          </span>
        </p>
      )}
      <ul className="part-events">
        {living.map((l) => (
          <li key={l.id} data-link={l.id}>
            {t("links.living", { by: l.by, at: longDay(l.madeAt), until: longDay(l.expiresAt) })}{" "}
            <Button type="link" onClick={() => end.mutate({ params: { path: { id: about.id, link: l.id } } })}>
              {t("links.revoke")}
            </Button>
          </li>
        ))}
      </ul>
      <form
        className="life"
        onSubmit={(e) => {
          e.preventDefault();
          open.mutate({ params: { path: { id: about.id } }, body: { days: Math.round(readFigure(days)) || 0 } });
        }}
      >
        <FigureField
          id="link-days"
          label={t("links.days")}
          unit={t("lives.days")}
          value={days}
          say={fieldSays(open.error as Problem | null).days}
          onChange={setDays}
        />
        <Button htmlType="submit" id="link-open">
          {t("links.open")}
        </Button>
      </form>
    </section>
  );
}
