import { useState } from "react";
import { useTranslation } from "react-i18next";
import type { PlanView as Plan } from "../../api/client";
import { figure, hourClock, measured } from "../../parts/format";
import { Tool } from "../../parts/glyphs";
import { figureSays, readFigure, readHour } from "../../parts/read-figure";
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
  return (
    <table className="twin slots">
      <caption>{t("plan.slots")}</caption>
      <thead>
        <tr>
          <th scope="col">{t("plan.slot")}</th>
          <th scope="col">{t("pad.start")}</th>
          <th scope="col">{t("plan.until")}</th>
          <th scope="col">{t("pad.hours")}</th>
          <th scope="col">rpm</th>
          <th scope="col" className="gives">
            {t("plan.gives")}
          </th>
          <th scope="col" className="no-print">
            <span className="sr">{t("plan.removeSlot")}</span>
          </th>
        </tr>
      </thead>
      <tbody>
        {slots.map((s, i) => {
          const p = plan?.slots[i];
          return (
            // biome-ignore lint/suspicious/noArrayIndexKey: a slot is its place in the programme
            <tr key={i}>
              <th scope="row">{i + 1}</th>
              <td>
                <Figure
                  key={String(s.start)}
                  id={`slot-${i}-start`}
                  label={`${t("plan.slot")} ${i + 1}, ${t("pad.start")}`}
                  value={s.start}
                  shown={hourClock(s.start)}
                  read={readHour}
                  onSet={(v) => put(i, "start", v)}
                />
              </td>
              <td className="n">{hourClock((s.start + s.hours) % 24)}</td>
              {(["hours", "rpm"] as const).map((key) => (
                <td key={key}>
                  <Figure
                    key={String(s[key])}
                    id={`slot-${i}-${key}`}
                    label={`${t("plan.slot")} ${i + 1}, ${key === "rpm" ? "rpm" : t(`pad.${key}`)}`}
                    value={s[key]}
                    shown={String(s[key])}
                    unit={key}
                    read={(text) => readFigure(text, key)}
                    onSet={(v) => put(i, key, v)}
                  />
                </td>
              ))}
              <td className="gives">
                {p && (
                  <>
                    {kind === "holding" && p.holdGpm > 0
                      ? t("plan.hold", { flow: measured(p.holdGpm, "gpm") })
                      : measured(p.gpm, "gpm")}
                    , {figure(p.w, "W")} W
                  </>
                )}
              </td>
              <td className="no-print">
                <button
                  type="button"
                  className="btn plain small"
                  aria-label={`${t("plan.removeSlot")} ${i + 1}`}
                  onClick={() => onChange(slots.filter((_, k) => k !== i))}
                >
                  <Tool name="no" size={16} />
                </button>
              </td>
            </tr>
          );
        })}
      </tbody>
      <tfoot className="no-print">
        <tr>
          <td colSpan={7}>
            <button
              type="button"
              className="as-table"
              id="slot-add"
              onClick={() => onChange([...slots, { start: 8, hours: 1, rpm: slots[0]?.rpm ?? 2000 }])}
            >
              {t("pad.addSlot")}
            </button>
          </td>
        </tr>
      </tfoot>
    </table>
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
      <input
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
