import { Button } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { useParams } from "react-router";
import { api, fieldSays, type PlanView as Plan, type Problem } from "../../api/client";
import { useChanged } from "../../api/use-changed";
import { PadPage } from "../../frame/pad-page";
import { PoolFrame } from "../../frame/pool-frame";
import { money } from "../../parts/format";
import { StateMark } from "../../parts/state-mark";
import { useSettled } from "../../parts/use-settled";
import { Bands } from "./bands";
import { Compare } from "./compare";
import { NeedsForm, readNeeds, type TypedNeeds, typedNeeds } from "./needs-form";
import styles from "./plan.module.css";
import { Schools, Season } from "./season";
import { SlotTable } from "./slot-table";
import { DayStrip } from "./strip-of-day";

/** How long, how fast and when a pool's pump runs: what it does, what it should. */
export function PlanView() {
  const { id = "" } = useParams();
  const pad = api.useQuery("get", "/api/v1/pools/{id}/pad", { params: { path: { id } } });
  if (pad.data?.document.presumed) return <PadPage of={() => null} />;
  return <PlanOf id={id} />;
}

function PlanOf({ id }: { id: string }) {
  const plan = api.useQuery("get", "/api/v1/pools/{id}/plan", { params: { path: { id } } });
  return (
    <PoolFrame
      id={id}
      query={plan}
      street={(p) => p.street}
      of={(p) => <Planned key={`${id} ${p.version}`} id={id} stands={p} />}
    />
  );
}

export type Slot = { start: number; hours: number; rpm: number };

const asSlots = (p: Plan["present"] | null | undefined): Slot[] =>
  (p?.slots ?? []).map(({ start, hours, rpm }) => ({ start, hours, rpm }));

/** What the plan does to the bill, power alone. */
const headline = (plan: Plan["present"], present: Plan["present"]) =>
  plan.broken.length
    ? "falls"
    : plan.month <= present.month
      ? "saves"
      : present.broken.length
        ? "costsMore"
        : "fewerStarts";

function Planned({ id, stands }: { id: string; stands: Plan }) {
  const { t } = useTranslation();
  const changed = useChanged();
  const at = { params: { path: { id } } };
  const [form, setForm] = useState<TypedNeeds>(() => typedNeeds(stands.needs));
  const read = readNeeds(form, stands.needs);
  const needs = useSettled(JSON.stringify(read.needs));
  const asked = needs !== JSON.stringify(stands.needs);
  const tried = api.useQuery(
    "post",
    "/api/v1/pools/{id}/plan/try",
    { ...at, body: { needs: JSON.parse(needs) } },
    {
      enabled: asked && Object.keys(read.wrong).length === 0,
      placeholderData: (before: unknown) => before as never,
      retry: false,
    },
  );
  const problem = asked ? (tried.error as Problem | null) : null;
  const says: Record<string, string> = { ...read.wrong };
  for (const [k, v] of Object.entries(fieldSays(problem))) says[k.replace(/^needs\./, "")] = v;
  const view = (asked && tried.data) || stands;
  const [edited, setEdited] = useState<Slot[] | null>(null);
  const slots = edited ?? asSlots(view.plan);
  const settled = useSettled(JSON.stringify(edited));
  const weighed = api.useQuery(
    "post",
    "/api/v1/pools/{id}/plan/slots",
    { ...at, body: { needs: view.needs, slots: JSON.parse(settled) ?? [] } },
    { enabled: settled !== "null" },
  );
  const keep = api.useMutation("put", "/api/v1/pools/{id}/plan/needs", {
    onSuccess: () => changed("pool"),
  });
  const [before, setBefore] = useState<Slot[] | null>(null);
  const set = api.useMutation("put", "/api/v1/pools/{id}/plan/programme", {
    onSuccess: () => {
      setEdited(null);
      changed("pool");
    },
  });
  /** Takes slots as what the pump runs now; what it ran stays at hand for an undo. */
  const run = (next: Slot[], back: Slot[] | null) =>
    set.mutate({ ...at, body: { slots: next } }, { onSuccess: () => setBefore(back) });
  const shown = edited ? weighed.data : view.plan;
  return (
    <div className={styles.plan}>
      <section className={styles["plan-day"]}>
        {view.conflict ? (
          <div className="danger" role="alert" id="plan-conflict">
            <StateMark mark="stop" />
            <div>
              <b>{view.conflict.says}</b>
              <ul>
                {view.conflict.mends.map((m) => (
                  <li key={m.need}>{m.says}</li>
                ))}
              </ul>
            </div>
          </div>
        ) : (
          view.plan && (
            <p className="lead" id="plan-says">
              {t(`plan.${headline(view.plan, view.present)}`, {
                plan: money(view.plan.month),
                now: money(view.present.month),
              })}
            </p>
          )
        )}
        {view.asks.map((a) => (
          <p className="advice" key={a} id="plan-asks">
            <StateMark mark="open" size={18} />
            <span>{a}</span>
          </p>
        ))}
        <DayStrip view={view} slots={slots} onChange={setEdited} />
        <Broken list={shown?.broken ?? []} wrong={shown?.wrong ?? []} edited={edited !== null} />
        <SlotTable kind={view.kind} slots={slots} plan={edited ? undefined : view.plan} onChange={setEdited} />
        {view.kind !== "single" && view.needs.primeMin > 0 && (
          <p id="plan-primes">{t("plan.primes", { n: view.needs.primeMin })}</p>
        )}
        <p className="part-acts no-print">
          {edited && (
            <Button id="plan-reset" onClick={() => setEdited(null)}>
              {t("plan.reset")}
            </Button>
          )}
          <Button id="plan-as-found" onClick={() => setEdited(asSlots(view.present))}>
            {t("plan.fromPresent")}
          </Button>
          <Button id="plan-print" onClick={() => window.print()}>
            {t("plan.card")}
          </Button>
          <Button
            type="primary"
            size="large"
            id="plan-set"
            disabled={set.isPending || slots.length === 0}
            onClick={() => run(slots, asSlots(view.present))}
          >
            {t("plan.runsNow")}
          </Button>
        </p>
        {set.isError && (
          <p className="field-says" role="alert">
            {fieldSays(set.error as Problem).slots ?? (set.error as Problem).detail ?? t("state.offline")}
          </p>
        )}
        {set.isSuccess && (
          <p className="state-line" role="status">
            <StateMark mark="fine" />
            <span>{t(before ? "plan.isSet" : "plan.isBack")}</span>
            {before && (
              <Button size="small" id="plan-undo" disabled={set.isPending} onClick={() => run(before, null)}>
                {t("week.undo")}
              </Button>
            )}
          </p>
        )}
        <Compare present={view.present} plan={shown ?? view.plan} edited={edited !== null} />
        {!edited && view.plan && (
          <p className="quiet">
            {t("plan.proved", {
              within: money(view.within),
              loss: money(view.loss),
              sure: Math.round(100 * view.flowSure),
            })}
          </p>
        )}
        <Bands view={view} />
        <Schools id={id} />
        <Season id={id} />
      </section>
      <section className={`${styles["plan-needs"]} no-print`}>
        <h2>{t("plan.needs")}</h2>
        <NeedsForm form={form} says={says} view={stands} onChange={(part) => setForm({ ...form, ...part })} />
        {problem && problem.status !== 422 && <p role="alert">{problem.detail ?? t("state.offline")}</p>}
        {stands.mayEdit && (
          <span className="part-acts">
            <Button
              type="primary"
              size="large"
              id="needs-save"
              disabled={!asked || keep.isPending || Object.keys(says).length > 0}
              onClick={() => keep.mutate({ ...at, body: { needs: view.needs, version: stands.version } })}
            >
              {t("plan.keepNeeds")}
            </Button>
            {stands.own && (
              <Button type="link" onClick={() => keep.mutate({ ...at, body: { version: stands.version } })}>
                {t("plan.usualNeeds")}
              </Button>
            )}
          </span>
        )}
        {keep.isError && <p role="alert">{(keep.error as Problem).detail ?? t("state.offline")}</p>}
      </section>
    </div>
  );
}

function Broken({ list, wrong, edited }: { list: Plan["present"]["broken"]; wrong: string[]; edited: boolean }) {
  const { t } = useTranslation();
  // Of a plan that was found, only what gave way or can't be kept.
  if (!edited && list.length + wrong.length === 0) return null;
  return (
    <ul className="hazards" id="plan-broken" aria-live="polite">
      {list.length + wrong.length === 0 && (
        <li className="hazard">
          <StateMark mark="fine" />
          {t("plan.allKept")}
        </li>
      )}
      {[...wrong, ...list.map((b) => b.says)].map((s) => (
        <li key={s} className={`hazard ${styles.act}`}>
          <StateMark mark="act" />
          {s}
        </li>
      ))}
    </ul>
  );
}
