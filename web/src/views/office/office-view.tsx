import { useTranslation } from "react-i18next";
import { NavLink, useParams } from "react-router";
import { api } from "../../api/client";
import { useMe } from "../../frame/me";
import { Page } from "../../frame/page";
import { GoButton } from "../../parts/go-button";
import { Loading, Trouble } from "../../parts/quiet-states";
import { Company } from "./company";
import { Jobs } from "./jobs";
import styles from "./office.module.css";
import { People } from "./people";
import { Sheets } from "./sheets";
import { Trail } from "./trail";

const rooms = ["company", "people", "sheets", "trail", "jobs"] as const;

/** The desk: how the company is set up, who works here, its record in and out. */
export default function OfficeView() {
  const { t } = useTranslation();
  const me = useMe();
  const { room = "company" } = useParams();
  return (
    <Page>
      <header className="top">
        <h1>{t("office.title")}</h1>
        <span className="part-acts">
          <GoButton type="link" to="/cleaning">
            {t("cleaningSettings.title")}
          </GoButton>
          <GoButton type="link" to="/catalogue">
            {t("pools.catalogue")}
          </GoButton>
          <GoButton type="link" to="/track-record">
            {t("track.title")}
          </GoButton>
        </span>
      </header>
      <nav className="pool-pages" aria-label={t("office.title")}>
        {rooms
          .filter((r) => r !== "jobs" || me.role === "owner")
          .map((r) => (
            <NavLink key={r} to={r === "company" ? "/office" : `/office/${r}`} end>
              {t(`office.rooms.${r}`)}
            </NavLink>
          ))}
      </nav>
      <div className={`catalogue ${styles.office}`}>
        {room === "company" && <CompanyRoom />}
        {room === "people" && <People me={me} />}
        {room === "sheets" && <Sheets me={me} />}
        {room === "trail" && <Trail />}
        {room === "jobs" && me.role === "owner" && <Jobs />}
      </div>
    </Page>
  );
}

function CompanyRoom() {
  const office = api.useQuery("get", "/api/v1/office");
  if (office.isError && !office.data) return <Trouble error={office.error} onRetry={() => office.refetch()} />;
  if (!office.data) return <Loading />;
  return <Company stands={office.data} />;
}
