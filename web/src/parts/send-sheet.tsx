import { useMutation } from "@tanstack/react-query";
import { useTranslation } from "react-i18next";
import type { ImportView, Problem } from "../api/client";
import { Drop } from "./drop";
import { StateMark } from "./state-mark";

/** Takes a spreadsheet and sends it to be read. Nothing of it is saved yet. */
export function SendSheet({ id, label, onRead }: { id: string; label: string; onRead: (v: ImportView) => void }) {
  const { t } = useTranslation();
  const send = useMutation({
    mutationFn: async (file: File) => {
      const answer = await fetch(`/api/v1/imports?name=${encodeURIComponent(file.name)}`, {
        method: "POST",
        headers: { "Content-Type": "application/octet-stream" },
        body: file,
      });
      if (!answer.ok) throw (await answer.json()) as Problem;
      return (await answer.json()) as ImportView;
    },
    onSuccess: onRead,
  });
  const problem = send.error as Problem | null;
  return (
    <>
      <Drop
        id={id}
        label={label}
        accept=".csv,.tsv,.txt,.xlsx"
        busy={send.isPending}
        onFile={(file) => send.mutate(file)}
      />
      {problem && (
        <p className="state-line" role="alert">
          <StateMark mark="act" />
          {problem.detail ?? t("state.offline")}
        </p>
      )}
    </>
  );
}
