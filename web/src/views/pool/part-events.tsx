import { Timeline } from "antd";
import { useTranslation } from "react-i18next";
import type { PoolRecordView } from "../../api/client";
import { date, money } from "../../parts/format";

/** What was done to parts, newest first. */
export function PartEvents({ events }: { events: PoolRecordView["partEvents"] }) {
  const { t } = useTranslation();
  return (
    <Timeline
      className="part-events"
      items={events.map((e) => ({
        key: e.id,
        color: "var(--ink)",
        content: (
          <span data-event={e.act}>
            <b>{t(`parts.did.${e.act}`, { kind: e.name, model: e.model })}</b>{" "}
            {e.was && t("parts.was", { model: e.was })} {e.note}{" "}
            <span className="quiet">
              {date(e.on)} · {e.by}
              {e.cost != null && ` · ${money(e.cost)}`}
            </span>
          </span>
        ),
      }))}
    />
  );
}
