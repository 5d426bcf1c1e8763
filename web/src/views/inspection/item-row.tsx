import { Button } from "antd";
import { useId } from "react";
import { useTranslation } from "react-i18next";
import type { Inspection } from "../../api/client";
import { FigureField } from "../../parts/figure-field";
import { Fold } from "../../parts/fold";
import type { Typed } from "../../parts/inspection-answers";
import { SnapOf } from "../../parts/photos";
import { StateMark } from "../../parts/state-mark";
import { WordsField } from "../../parts/words-field";
import styles from "./inspection.module.css";
import { ItemDrawing } from "./item-drawing";

type Item = Inspection["items"][number];
export type Finding = Inspection["findings"][number];

const marks = { stop: "stop", soon: "act", act: "act", note: "job" } as const;

/** What an item came to, in words, with who may mend it. */
export function Verdict({ finding }: { finding: Finding }) {
  const { t } = useTranslation();
  return (
    <p className={`state-line ${styles["verdict-line"]}`} data-finding={finding.item}>
      <StateMark mark={marks[finding.severity]} />
      <span>
        <b>{t(`inspection.severity.${finding.severity}`)}.</b> {finding.says}{" "}
        <span className="quiet">
          {t("inspection.who", { who: finding.who, cost: t(`inspection.cost.${finding.cost}`) })}{" "}
          {t("inspection.source", { source: finding.source })}
        </span>
      </span>
    </p>
  );
}

/** One thing to look at, its answer under the thumb, and what follows from it. */
export function ItemRow({
  item,
  stands,
  typed,
  finding,
  say,
  onAnswer,
}: {
  item: Item;
  stands: Inspection;
  typed: Typed;
  finding?: Finding;
  say: string;
  onAnswer: (typed: Typed) => void;
}) {
  const { t } = useTranslation();
  const noteId = useId();
  const answered = item.kind === "computed" || typed.yes != null || Boolean(typed.value);
  return (
    <li className={styles["insp-item"]} data-item={item.id}>
      <h3>{item.name}</h3>
      <p className="quiet">{item.look}</p>
      <ItemDrawing item={item.id} straight={stands.straight} />
      {item.kind === "yesno" && (
        <fieldset className={styles["insp-answers"]}>
          <legend className="sr">{item.name}</legend>
          {([true, false] as const).map((yes) => (
            <Button
              key={String(yes)}
              data-yes={yes}
              type={typed.yes === yes ? "primary" : "default"}
              aria-pressed={typed.yes === yes}
              onClick={() => onAnswer({ yes: typed.yes === yes ? null : yes })}
            >
              {t(yes ? "inspection.yes" : "inspection.no")}
            </Button>
          ))}
        </fieldset>
      )}
      {item.kind === "measure" && (
        <FigureField
          id={`insp-${item.id}`}
          label={item.name}
          unit={item.unit === "year" ? undefined : item.unit}
          value={typed.value ?? ""}
          say={say}
          onChange={(value) => onAnswer({ value })}
        />
      )}
      {item.kind !== "measure" && say && (
        <p className="field-says" role="alert">
          {say}
        </p>
      )}
      {finding && <Verdict finding={finding} />}
      {!finding && answered && (
        <p className="state-line">
          <StateMark mark="fine" />
          {t("inspection.fine")}
        </p>
      )}
      {item.kind !== "computed" && answered && (
        <div className={styles["insp-more"]}>
          <SnapOf
            pool={stands.poolId}
            of={{ inspection: stands.id, item: item.id }}
            name={item.name}
            shots={stands.photos.filter((p) => p.item === item.id)}
          />
          <Fold head={t("inspection.note")} open={Boolean(typed.note)}>
            <WordsField
              id={noteId}
              label={t("inspection.note")}
              value={typed.note ?? ""}
              max={500}
              onChange={(note) => onAnswer({ note })}
            />
          </Fold>
        </div>
      )}
    </li>
  );
}
