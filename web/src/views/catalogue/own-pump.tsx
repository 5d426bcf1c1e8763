import { useQueryClient } from "@tanstack/react-query";
import { Button } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { api, fieldSays, type Problem } from "../../api/client";
import { ChoiceField } from "../../parts/choice-field";
import { FigureField } from "../../parts/figure-field";
import { Fold } from "../../parts/fold";
import { readFigure } from "../../parts/read-figure";
import { WordsField } from "../../parts/words-field";

const kinds = ["variable", "single", "two", "holding"] as const;
const points = [1, 2, 3] as const;
const bys = ["curve", "walk"] as const;
const blank = { kind: "variable", by: "curve" };

/** A pump that no list has: its plate, and two points of its curve or three, or readings at the pad. */
export function OwnPump() {
  const { t } = useTranslation();
  const queries = useQueryClient();
  const [form, setForm] = useState<Record<string, string>>(blank);
  const add = api.useMutation("post", "/api/v1/catalogue/pumps", {
    onSuccess: () => {
      setForm(blank);
      queries.invalidateQueries({ queryKey: ["get", "/api/v1/catalogue"] });
    },
  });
  const problem = add.error as Problem | null;
  const says = fieldSays(problem);
  const walked = points.filter((n) => form[`rpm${n}`]?.trim());
  const walkField = (n: number, field: string) => `walk[${walked.indexOf(n as 1)}].${field}`;
  const figure = (id: string, unit: string, field = id) => (
    <FigureField
      key={id}
      id={`own-${id}`}
      label={t(`catalogue.pump.${id.replace(/\d$/, "")}`, { n: id.slice(-1) })}
      unit={unit}
      value={form[id] ?? ""}
      say={says[field]}
      onChange={(text) => setForm({ ...form, [id]: text })}
    />
  );
  const read = (id: string) => readFigure(form[id] ?? "") || 0;
  const readings = (n: number) => ({
    rpm: read(`rpm${n}`),
    tankPsi: read(`tank${n}`),
    vacuumInHg: read(`vacuum${n}`),
    gpm: read(`flow${n}`),
  });
  const put = () =>
    add.mutate({
      body: {
        model: (form.model ?? "").trim() || " ",
        kind: form.kind as (typeof kinds)[number],
        topRpm: read("topRpm"),
        leastRpm: form.kind === "single" ? read("topRpm") : read("leastRpm"),
        watts: read("watts"),
        points:
          form.by === "walk"
            ? []
            : points.filter((n) => form[`ft${n}`]?.trim()).map((n) => ({ gpm: read(`gpm${n}`), ft: read(`ft${n}`) })),
        walk: form.by === "walk" ? walked.map((n) => readings(n)) : undefined,
      },
    });
  return (
    <Fold id="own-pump" head={t("catalogue.pump.title")}>
      <div className="settings">
        <p>{t("catalogue.pump.what")}</p>
        <WordsField
          id="own-model"
          label={t("catalogue.pump.model")}
          value={form.model ?? ""}
          say={says.model}
          onChange={(model) => setForm({ ...form, model })}
        />
        <ChoiceField
          id="own-kind"
          label={t("catalogue.pump.kind")}
          value={form.kind as (typeof kinds)[number]}
          options={kinds.map((k) => ({ value: k, label: t(`catalogue.pump.kinds.${k}`) }))}
          onChange={(kind) => setForm({ ...form, kind })}
        />
        <div className="life">
          {figure("topRpm", "rpm")}
          {form.kind !== "single" && figure("leastRpm", "rpm")}
          {figure("watts", "W")}
        </div>
        <ChoiceField
          id="own-by"
          label={t("catalogue.pump.by")}
          value={form.by as (typeof bys)[number]}
          options={bys.map((by) => ({ value: by, label: t(`catalogue.pump.bys.${by}`) }))}
          onChange={(by) => setForm({ ...form, by })}
        />
        {form.by === "walk" && <p>{t("catalogue.pump.walkHow")}</p>}
        {points.map((n) =>
          form.by === "walk" ? (
            <div className="life" key={n}>
              {figure(`rpm${n}`, "rpm", n === 1 ? "points" : walkField(n, "rpm"))}
              {figure(`flow${n}`, "gpm", walkField(n, "gpm"))}
              {figure(`tank${n}`, "psi", walkField(n, "tankPsi"))}
              {figure(`vacuum${n}`, "inHg", walkField(n, "vacuumInHg"))}
            </div>
          ) : (
            <div className="life" key={n}>
              {figure(`gpm${n}`, "gpm", n === 1 ? "points" : "")}
              {figure(`ft${n}`, "ft", "")}
            </div>
          ),
        )}
        <Button type="primary" size="large" id="own-add" disabled={add.isPending} onClick={put}>
          {t("catalogue.pump.add")}
        </Button>
        {problem && Object.keys(says).length === 0 && (
          <p className="field-says" role="alert">
            {problem.detail ?? t("state.offline")}
          </p>
        )}
      </div>
    </Fold>
  );
}
