import { Button } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { api, fieldSays, type Problem } from "../api/client";
import { ChoiceField } from "./choice-field";
import { FigureField } from "./figure-field";
import { Fold } from "./fold";
import { figure } from "./format";
import { readFigure } from "./read-figure";

const shapes = ["rectangle", "round", "oval", "kidney"] as const;
type Shape = (typeof shapes)[number];

/** What is taped out of each outline; the depths are taped of all. */
const sides = {
  rectangle: ["lengthFt", "widthFt"],
  round: ["lengthFt"],
  oval: ["lengthFt", "widthFt"],
  kidney: ["lengthFt", "widthFt", "width2Ft"],
} as const;

/** A pool's volume as it is typed, or worked out from its shape and depths. */
export function VolumeField({
  id,
  value,
  say,
  onChange,
}: {
  id: string;
  value: string;
  say?: string;
  onChange: (text: string) => void;
}) {
  const { t } = useTranslation();
  const [shape, setShape] = useState<Shape>("rectangle");
  const [typed, setTyped] = useState<Record<string, string>>({});
  const work = api.useMutation("post", "/api/v1/volume");
  const says = fieldSays(work.error as Problem | null);
  const at = (key: string) => readFigure(typed[key] ?? "") || 0;
  return (
    <>
      <FigureField id={id} label={t("pad.gallons")} unit="gal" value={value} say={say} onChange={onChange} />
      <Fold id="volume" head={t("volume.workOut")}>
        <ChoiceField
          id={`${id}-shape`}
          label={t("volume.shape")}
          value={shape}
          options={shapes.map((s) => ({ value: s, label: t(`volume.shapes.${s}`) }))}
          onChange={setShape}
        />
        {[...sides[shape], "shallowFt", "deepFt"].map((key) => (
          <FigureField
            key={key}
            id={`${id}-${key}`}
            label={t(`volume.${shape === "round" && key === "lengthFt" ? "across" : key}`)}
            unit="ft"
            value={typed[key] ?? ""}
            say={says[key]}
            hint={key === "deepFt" ? t("volume.flat") : undefined}
            onChange={(text) => setTyped({ ...typed, [key]: text })}
          />
        ))}
        <Button
          size="small"
          id={`${id}-work-out`}
          onClick={() =>
            work.mutate(
              {
                body: {
                  shape,
                  lengthFt: at("lengthFt"),
                  widthFt: at("widthFt"),
                  width2Ft: at("width2Ft"),
                  shallowFt: at("shallowFt"),
                  deepFt: at("deepFt"),
                },
              },
              { onSuccess: (v) => onChange(String(Math.round(v.gallons / 50) * 50)) },
            )
          }
        >
          {t("volume.take")}
        </Button>
        {work.data && (
          <p role="status">
            {t("volume.holds", { gallons: figure(work.data.gallons, "gal") })} {t("volume.how")}
          </p>
        )}
      </Fold>
    </>
  );
}
