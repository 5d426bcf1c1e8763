import { Button, Input } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import type { PlanView as Plan } from "../../api/client";
import { DataTable } from "../../parts/data-table";
import { figure, hourClock, measured } from "../../parts/format";
import { Tool } from "../../parts/glyphs";
import { figureSays, readFigure, readHour } from "../../parts/read-figure";
import styles from "./plan.module.css";
import type { Slot } from "./plan-view";

/** The slots to key into the pump; each can be typed over. */
export function SlotTable({
  kind,
  slots,
  plan,
  onChange,
}: {
  kind: Plan["kind"];
  slots: Slot[];
  plan?: Plan["plan"];
  onChange: (slots: Slot[]) => void;
}) {
  const { t } = useTranslation();
  const put = (i: number, key: keyof Slot, v: number) =>
    onChange(slots.map((s, k) => (k === i ? { ...s, [key]: v } : s)));
  const rows = slots.map((slot, i) => ({ ...slot, i, gives: plan?.slots[i] }));
  return (
    <DataTable
      name="slots"
      label={t("plan.slots")}
      stacks
      rows={rows}
      keyOf={(s) => s.i}
      columns={[
        { key: "slot", title: t("plan.slot"), head: true, cell: (s) => s.i + 1 },
        {
          key: "start",
          title: t("pad.start"),
          cell: (s) => (
            <Figure
              key={String(s.start)}
              id={`slot-${s.i}-start`}
              label={`${t("plan.slot")} ${s.i + 1}, ${t("pad.start")}`}
              value={s.start}
              shown={hourClock(s.start)}
              read={readHour}
              onSet={(v) => put(s.i, "start", v)}
            />
          ),
        },
        {
          key: "until",
          title: t("plan.until"),
          cell: (s) => <span className={`n ${styles.until}`}>{hourClock((s.start + s.hours) % 24)}</span>,
        },
        ...(["hours", "rpm"] as const).map((key) => ({
          key,
          title: key === "rpm" ? "rpm" : t("pad.hours"),
          cell: (s: (typeof rows)[number]) => (
            <Figure
              key={String(s[key])}
              id={`slot-${s.i}-${key}`}
              label={`${t("plan.slot")} ${s.i + 1}, ${key === "rpm" ? "rpm" : t("pad.hours")}`}
              value={s[key]}
              shown={String(s[key])}
              unit={key}
              read={(text) => readFigure(text, key)}
              onSet={(v) => put(s.i, key, v)}
            />
          ),
        })),
        {
          key: "gives",
          title: t("plan.gives"),
          wide: true,
          cell: ({ gives: p }) =>
            p &&
            `${
              kind === "holding" && p.holdGpm > 0
                ? t("plan.hold", { flow: measured(p.holdGpm, "gpm") })
                : measured(p.gpm, "gpm")
            }, ${figure(p.w, "W")} W`,
        },
        {
          key: "remove",
          title: <span className="sr">{t("plan.removeSlot")}</span>,
          cell: (s) => (
            <Button
              type="text"
              className="no-print"
              icon={<Tool name="no" size={16} />}
              aria-label={`${t("plan.removeSlot")} ${s.i + 1}`}
              onClick={() => onChange(slots.filter((_, k) => k !== s.i))}
            />
          ),
        },
      ]}
      foot={
        <Button
          type="link"
          id="slot-add"
          className="no-print"
          onClick={() => onChange([...slots, { start: 8, hours: 1, rpm: slots[0]?.rpm ?? 2000 }])}
        >
          {t("pad.addSlot")}
        </Button>
      }
    />
  );
}

/** A figure of a slot, taken when it is left; what is no figure stays as typed and is told. */
function Figure({
  id,
  label,
  value,
  shown,
  unit,
  read,
  onSet,
}: {
  id: string;
  label: string;
  value: number;
  shown: string;
  unit?: string;
  read: (text: string) => number;
  onSet: (v: number) => void;
}) {
  const [text, setText] = useState<string | null>(null);
  const [said, setSaid] = useState(false);
  const take = () => {
    const v = text === null ? value : read(text);
    setSaid(Number.isNaN(v));
    if (Number.isNaN(v)) return;
    setText(null);
    if (v !== value) onSet(v);
  };
  return (
    <>
      <Input
        id={id}
        aria-label={label}
        aria-invalid={said}
        aria-describedby={said ? `${id}-says` : undefined}
        inputMode="decimal"
        autoComplete="off"
        value={text ?? shown}
        onChange={(e) => setText(e.target.value)}
        onBlur={take}
        onKeyDown={(e) => {
          if (e.key === "Enter") take();
        }}
      />
      {said && (
        <p id={`${id}-says`} className="field-says" role="alert">
          {figureSays(text ?? "", unit)}
        </p>
      )}
    </>
  );
}
