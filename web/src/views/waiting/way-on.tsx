import { Button, Popconfirm } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { forget, keep, keptOf } from "../../kept/store";
import type { Waits } from "../../kept/waiting";

/** What was typed in something that was refused, as text. */
const asText = (w: Waits): string =>
  JSON.stringify(keptOf(w.who, w.kind, w.id), (key, v) => (key === "last" || v instanceof Blob ? undefined : v), 2);

/** The ways on from what was refused: once more, into the clipboard for whoever can put it in by hand, or away. */
export function WayOn({ waits: w }: { waits: Waits }) {
  const { t } = useTranslation();
  const [says, setSays] = useState("");
  const copy = () =>
    navigator.clipboard.writeText(asText(w)).then(
      () => setSays(t("waiting.copied")),
      () => setSays(t("waiting.notCopied")),
    );
  const again = () => {
    const { refused: _, ...value } = keptOf<{ refused?: unknown }>(w.who, w.kind, w.id) ?? {};
    keep(w.who, w.kind, w.id, value);
  };
  return (
    <span className="part-acts">
      <Button size="small" data-again={w.id} onClick={again}>
        {t("waiting.again")}
      </Button>
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
