import { useMutation } from "@tanstack/react-query";
import { Button } from "antd";
import { type FormEvent, type ReactNode, useState } from "react";
import { useTranslation } from "react-i18next";
import { fieldSays, type Problem } from "../api/client";
import { type Changed, useChanged } from "../api/use-changed";
import { figureSays, readFigure } from "./read-figure";
import { StateMark } from "./state-mark";
import { useBased } from "./use-based";

interface Versioned {
  version: number;
}

/** Reads a typed figure; a slip is named at its field, and nothing is sent. */
export type ReadField = (field: string, text: string, unit?: string) => number;

export interface RecordForm<R extends Versioned, F extends object> {
  form: F;
  set: (part: Partial<F>) => void;
  /** Sentences by field. */
  says: Record<string, string>;
  problem: Problem | null;
  /** The record as somebody else left it meanwhile. */
  theirs: R | undefined;
  submit: (e?: FormEvent) => void;
  takeTheirs: () => void;
  pending: boolean;
  saved: boolean;
}

/** A form over a record that others may change too: what was typed is based on a version; the
 *  second of two to save sees what stands now, and chooses. */
export function useRecordForm<R extends Versioned, F extends object, B extends object>(
  stands: R,
  typed: (r: R) => F,
  how: {
    /** What the server takes of what was typed. */
    body: (form: F, read: ReadField) => B;
    put: (body: B & Versioned) => Promise<{ data?: R; error?: unknown }>;
    changed: Changed;
    onSaved?: (kept: R) => void;
  },
): RecordForm<R, F> {
  const changed = useChanged();
  const { form, setForm, version, startFrom } = useBased(stands, typed);
  const [wrong, setWrong] = useState<Record<string, string>>({});
  const save = useMutation<R, Problem, B & Versioned>({
    mutationFn: async (body) => {
      const { data, error } = await how.put(body);
      if (error || !data) throw error;
      return data;
    },
    onSuccess: (kept) => {
      startFrom(kept);
      changed(how.changed);
      how.onSaved?.(kept);
    },
  });
  const problem = save.error;
  const theirs = problem?.status === 409 ? (problem.errors?.[0]?.value as R | undefined) : undefined;
  return {
    form,
    set: (part) => setForm((f) => ({ ...f, ...part })),
    says: { ...wrong, ...fieldSays(problem) },
    problem,
    theirs,
    pending: save.isPending,
    saved: save.isSuccess,
    takeTheirs: () => {
      if (theirs) startFrom(theirs);
      void changed(how.changed);
      save.reset();
    },
    submit: (e) => {
      e?.preventDefault();
      const bad: Record<string, string> = {};
      const body = how.body(form, (field, text, unit) => {
        const v = readFigure(text, unit);
        if (Number.isNaN(v)) bad[field] = figureSays(text, unit);
        return v;
      });
      setWrong(bad);
      if (Object.keys(bad).length === 0) save.mutate({ ...body, version: theirs?.version ?? version });
    },
  };
}

/** What became of saving, and the button for it. */
export function RecordEnd<R extends Versioned, F extends object>({
  record,
  id,
  small,
  theirs,
  children,
}: {
  record: RecordForm<R, F>;
  id?: string;
  small?: boolean;
  /** What the other's version says. */
  theirs?: (r: R) => ReactNode;
  children?: ReactNode;
}) {
  const { t } = useTranslation();
  const { problem } = record;
  const stands = record.theirs;
  return (
    <>
      {problem && problem.status !== 422 && (
        <div className="state-line" role="alert">
          <StateMark mark="act" />
          <span>
            {problem.detail ?? t("state.offline")} {stands && theirs?.(stands)}
          </span>
        </div>
      )}
      {record.saved && (
        <p className="state-line" role="status">
          <StateMark mark="fine" />
          {t("cleaningSettings.saved")}
        </p>
      )}
      <span className="part-acts">
        <Button
          htmlType="submit"
          type={small ? "default" : "primary"}
          size={small ? "small" : "large"}
          id={id}
          disabled={record.pending}
        >
          {t(stands ? "record.keepMine" : "record.save")}
        </Button>
        {stands && (
          <Button size={small ? "small" : "middle"} onClick={record.takeTheirs}>
            {t("record.keepTheirs")}
          </Button>
        )}
        {children}
      </span>
    </>
  );
}
