import { useTranslation } from "react-i18next";
import { Link, NavLink, useParams } from "react-router";
import { api } from "../../api/client";
import type { FrameProps } from "../../parts/frame";
import { Loading, Trouble } from "../../parts/quiet-states";
import { Strip } from "../../parts/strip";
import { Company } from "./company";
import { People } from "./people";
import { Sheets } from "./sheets";
import { Trail } from "./trail";

const rooms = ["company", "people", "sheets", "trail"] as const;

/** The desk: how the company is set up, who works here, its record in and out. */
export default function OfficeView(frame: FrameProps) {
  const { t } = useTranslation();
  const { room = "company" } = useParams();
  return (
    <div className="frame plain">
      <Strip {...frame} />
      <main className="whole">
        <header className="top">
          <h1>{t("office.title")}</h1>
          <span className="part-acts">
            <Link className="btn plain" to="/cleaning">
              {t("cleaningSettings.title")}
            </Link>
            <Link className="btn plain" to="/catalogue">
              {t("pools.catalogue")}
            </Link>
            <Link className="btn plain" to="/track-record">
              {t("track.title")}
            </Link>
          </span>
        </header>
        <nav className="pool-pages" aria-label={t("office.title")}>
          {rooms.map((r) => (
            <NavLink key={r} to={r === "company" ? "/office" : `/office/${r}`} end>
              {t(`office.rooms.${r}`)}
            </NavLink>
          ))}
        </nav>
        <div className="catalogue office">
          {room === "company" && <CompanyRoom />}
          {room === "people" && <People me={frame.me} />}
          {room === "sheets" && <Sheets me={frame.me} />}
          {room === "trail" && <Trail />}
        </div>
      </main>
    </div>
  );
}

function CompanyRoom() {
  const office = api.useQuery("get", "/api/v1/office");
  if (office.isError && !office.data) return <Trouble error={office.error} onRetry={() => office.refetch()} />;
  if (!office.data) return <Loading />;
  return <Company stands={office.data} />;
}
