import { Button, Popconfirm } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { forget, keptOf } from "../../kept/store";
import type { Waits } from "../../kept/waiting";

/** What was typed in something that was refused, as text. */
const asText = (w: Waits): string =>
  JSON.stringify(keptOf(w.who, w.kind, w.id), (key, v) => (key === "last" || v instanceof Blob ? undefined : v), 2);

/** The ways on from what was refused: into the clipboard, for whoever can put it in by hand, or away. */
export function WayOn({ waits: w }: { waits: Waits }) {
  const { t } = useTranslation();
  const [says, setSays] = useState("");
  const copy = () =>
    navigator.clipboard.writeText(asText(w)).then(
      () => setSays(t("waiting.copied")),
      () => setSays(t("waiting.notCopied")),
    );
  return (
    <span className="part-acts">
      {w.kind !== "photo" && (
        <Button size="small" data-copy={w.id} onClick={copy}>
          {t("waiting.copy")}
        </Button>
      )}
      {says && <span role="status">{says}</span>}
      <Popconfirm
        title={t("waiting.sure")}
        okText={t("waiting.discard")}
        cancelText={t("log.back")}
        onConfirm={() => forget(w.who, w.kind, w.id)}
      >
        <Button size="small" danger data-discard={w.id}>
          {t("waiting.discard")}
        </Button>
      </Popconfirm>
    </span>
  );
}
