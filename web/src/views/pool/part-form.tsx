import { Button } from "antd";
import { type ComponentProps, useState } from "react";
import { useTranslation } from "react-i18next";
import { v7 as uuid } from "uuid";
import type { PoolRecordView } from "../../api/client";
import { useChange } from "../../kept/use-change";
import { ChoiceField } from "../../parts/choice-field";
import { today } from "../../parts/clock";
import { DateField } from "../../parts/date-field";
import { readFigure } from "../../parts/read-figure";
import { WordsField } from "../../parts/words-field";

/** A field of the form: a day, or words. */
const Field = ({ day, ...field }: { day: boolean } & ComponentProps<typeof WordsField> & { label: string }) =>
  day ? <DateField {...field} hint={undefined} /> : <WordsField {...field} />;

export type Act = PoolRecordView["partEvents"][number]["act"];

/** What each act asks for. */
const fields = {
  install: ["kind", "model", "serial", "on", "warrantyUntil", "cost", "note"],
  replace: ["model", "serial", "on", "warrantyUntil", "cost", "note"],
  repair: ["on", "cost", "note"],
  remove: ["on", "note"],
} as const;

type FieldName = (typeof fields)["install"][number];

interface Props {
  pool: string;
  street: string;
  act: Act;
  part?: PoolRecordView["parts"][number];
  /** What is in place, for what a new part may belong to. */
  others?: PoolRecordView["parts"];
  onDone: () => void;
}

/** Something done to a part, as it is written down. */
export function PartForm({ pool, street, act, part, others, onDone }: Props) {
  const { t } = useTranslation();
  const [id] = useState(() => uuid());
  const [typed, setTyped] = useState<Partial<Record<FieldName, string>>>({
    on: today(),
    model: act === "replace" ? part?.model : "",
  });
  const [partOf, setPartOf] = useState("");
  const { make, busy, says, refused } = useChange("part");
  return (
    <form
      className="part-form"
      onSubmit={(e) => {
        e.preventDefault();
        const { cost, on = "", ...words } = typed;
        make(
          pool,
          street,
          {
            ...words,
            id,
            act,
            on,
            part: part?.id,
            partOf: partOf || undefined,
            cost: cost?.trim() ? readFigure(cost) || -1 : undefined,
          },
          onDone,
        );
      }}
    >
      <b>{t(`parts.doing.${act}`, { kind: part?.name ?? "" })}</b>
      {fields[act].map((f) => (
        <Field
          key={f}
          day={f === "on" || f === "warrantyUntil"}
          id={`part-${f}`}
          label={t(`parts.field.${f}`)}
          max={f === "note" ? 500 : 80}
          value={typed[f] ?? ""}
          say={says[f]}
          onChange={(text) => setTyped({ ...typed, [f]: text })}
        />
      ))}
      {act === "install" && (
        <ChoiceField
          id="part-partOf"
          label={t("parts.field.partOf")}
          value={partOf}
          say={says.partOf}
          options={[
            { value: "", label: t("parts.ofNothing") },
            ...(others ?? []).map((o) => ({ value: o.id, label: [o.name, o.model].filter(Boolean).join(" ") })),
          ]}
          onChange={setPartOf}
        />
      )}
      {refused && Object.keys(says).length === 0 && (
        <p className="field-says" role="alert">
          {refused}
        </p>
      )}
      {(act === "replace" || act === "install") && <p className="quiet">{t("parts.padToo")}</p>}
      <span className="part-acts">
        <Button htmlType="submit" size="small" id="part-save" disabled={busy}>
          {t("parts.keep")}
        </Button>
        <Button type="link" size="small" onClick={onDone}>
          {t("log.back")}
        </Button>
      </span>
    </form>
  );
}
