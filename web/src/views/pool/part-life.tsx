import { Button } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { api, fieldSays, type PoolRecordView, type Problem } from "../../api/client";
import { useChanged } from "../../api/use-changed";
import { FigureField } from "../../parts/figure-field";
import { Fold } from "../../parts/fold";
import { figureSays, readFigure } from "../../parts/read-figure";

type Part = PoolRecordView["parts"][number];

/** How long one part is expected to last; empty is what its kind lasts. */
export function PartLife({ part }: { part: Part }) {
  const { t } = useTranslation();
  const changed = useChanged();
  const [text, setText] = useState(part.own ? String(part.expectedYears ?? "") : "");
  const [wrong, setWrong] = useState("");
  const save = api.useMutation("put", "/api/v1/equipment/{id}/life");
  const problem = save.error as Problem | null;
  return (
    <Fold head={t(part.own ? "record.ownLife" : "record.kindLife")}>
      <form
        onSubmit={(e) => {
          e.preventDefault();
          const years = text.trim() ? readFigure(text) : null;
          setWrong(text.trim() ? figureSays(text) : "");
          if (Number.isNaN(years)) return;
          save.mutate({ params: { path: { id: part.id } }, body: { years } }, { onSuccess: () => changed("pool") });
        }}
      >
        <FigureField
          id={`life-${part.id}`}
          label={t("record.life", { kind: part.name })}
          unit={t("lives.years")}
          value={text}
          hint={t("record.lifeHint")}
          say={wrong || fieldSays(problem).years || problem?.detail}
          onChange={setText}
        />
        <Button htmlType="submit" disabled={save.isPending}>
          {t("cleaningSettings.save")}
        </Button>
      </form>
    </Fold>
  );
}
