import { useTranslation } from "react-i18next";
import { useParams } from "react-router";
import { api } from "../../api/client";
import { PoolFrame } from "../../frame/pool-frame";
import { longDay } from "../../parts/format";
import { AddPhoto, Photos } from "../../parts/photos";
import styles from "./about.module.css";
import { Archive } from "./archive";
import { CustomerPart } from "./customer-part";
import { Facts } from "./facts";
import { Links } from "./links";

/** What a pool is, whose, who comes when, how it looks, and who changed that. */
export function AboutView() {
  const { t } = useTranslation();
  const { id = "" } = useParams();
  const about = api.useQuery("get", "/api/v1/pools/{id}/about", { params: { path: { id } } });
  return (
    <PoolFrame
      id={id}
      query={about}
      street={(a) => a.name}
      of={(a) => (
        <div className={styles.about}>
          <div>
            <Facts key={a.id} stands={a} />
            {a.mayEdit && <Archive about={a} />}
          </div>
          <div>
            <CustomerPart key={`${a.customerId} ${a.customer?.version}`} about={a} />
            <section>
              <h2>{t("photo.title")}</h2>
              {a.photos.length === 0 && <p className="empty">{t("photo.none")}</p>}
              <Photos shots={a.photos} shown={a.photo} mayEdit={a.mayEdit} />
              <AddPhoto pool={a.id} />
            </section>
            {a.mayEdit && <Links about={a} />}
            {a.changes.length > 0 && (
              <section>
                <h2>{t("about.changes")}</h2>
                <ul className="part-events">
                  {a.changes.map((c) => (
                    <li key={c.at + c.says}>
                      <span className="quiet">
                        {longDay(c.at)}, {c.by}
                      </span>{" "}
                      {c.says}
                    </li>
                  ))}
                </ul>
              </section>
            )}
          </div>
        </div>
      )}
    />
  );
}
