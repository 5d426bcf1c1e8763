import { Button, Popconfirm, Progress } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { useNavigate } from "react-router";
import { http, type PoolLine, type Problem } from "../../api/client";
import { useChanged } from "../../api/use-changed";
import { Choice } from "../../parts/choice";
import { weekdays } from "../../parts/format";
import { StateMark } from "../../parts/state-mark";

/** What is to become of each of the ticked pools. */
type Change = { technicianId: string } | { weekday: number } | { archived: true };

/** Changes one pool as it stands now; says why not, where it can't. */
async function change(id: string, to: Change): Promise<string> {
  const path = { params: { path: { id } } };
  const { data: stands, error } = await http.GET("/api/v1/pools/{id}/about", path);
  if (!stands) return (error as Problem)?.detail ?? "";
  const { error: refused } =
    "archived" in to
      ? await http.PUT("/api/v1/pools/{id}/archived", { ...path, body: { archived: true, version: stands.version } })
      : await http.PUT("/api/v1/pools/{id}/about", { ...path, body: { ...factsOf(stands), ...to } });
  return refused ? ((refused as Problem).detail ?? "") : "ok";
}

type Stands = NonNullable<Awaited<ReturnType<typeof aboutOf>>>;
const aboutOf = async (id: string) => (await http.GET("/api/v1/pools/{id}/about", { params: { path: { id } } })).data;

/** Of what a pool is, the facts that the desk writes. */
function factsOf(p: Stands) {
  const { street, town, which, gallons, surface, inGround, accessNote, weekday, technicianId, minutes } = p;
  const { lapOrder, lat, lon, seasonOpens, seasonCloses, customerId, version } = p;
  const whose = { technicianId, customerId, version };
  const place = { lapOrder, lat, lon, seasonOpens, seasonCloses };
  return { street, town, which, gallons, surface, inGround, accessNote, weekday, minutes, ...place, ...whose };
}

/** What is done with all ticked pools: one after the other, each told where it fails. */
export function Bulk({
  pools,
  technicians,
  onDone,
}: {
  pools: PoolLine[];
  technicians: { id: string; name: string }[];
  onDone: () => void;
}) {
  const { t } = useTranslation();
  const go = useNavigate();
  const changed = useChanged();
  const [at, setAt] = useState<number | null>(null);
  const [failed, setFailed] = useState<string[]>([]);
  const all = async (to: Change) => {
    const wrong: string[] = [];
    setFailed([]);
    for (const [i, p] of pools.entries()) {
      setAt(i);
      const says = await change(p.id, to).catch(() => "");
      if (says !== "ok") wrong.push(`${p.street}: ${says || t("state.offline")}`);
    }
    setAt(null);
    setFailed(wrong);
    changed("pool");
    if (wrong.length === 0) onDone();
  };
  if (at !== null) return <Progress percent={Math.round((100 * at) / pools.length)} size={{ width: 240 }} />;
  return (
    <>
      <Choice
        id="bulk-technician"
        label={t("bulk.technician")}
        value=""
        options={[
          { value: "", label: t("bulk.technician") },
          ...technicians.map((p) => ({ value: p.id, label: p.name })),
        ]}
        onChange={(technicianId) => technicianId && all({ technicianId })}
      />
      <Choice
        id="bulk-weekday"
        label={t("bulk.weekday")}
        value=""
        options={[
          { value: "", label: t("bulk.weekday") },
          ...weekdays().map((name, i) => ({ value: String(i), label: name })),
        ]}
        onChange={(v) => v && all({ weekday: Number(v) })}
      />
      <Button size="small" id="bulk-labels" onClick={() => go(`/labels?of=${pools.map((p) => p.id).join(",")}`)}>
        {t("bulk.labels")}
      </Button>
      <Popconfirm
        title={t("bulk.archiveAsk", { count: pools.length })}
        okText={t("bulk.archive")}
        cancelText={t("log.back")}
        onConfirm={() => all({ archived: true })}
      >
        <Button size="small" id="bulk-archive">
          {t("bulk.archive")}
        </Button>
      </Popconfirm>
      {failed.map((f) => (
        <span key={f} className="field-says" role="alert">
          <StateMark mark="act" size={14} /> {f}
        </span>
      ))}
    </>
  );
}
