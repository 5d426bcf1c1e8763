import { useState } from "react";
import { useTranslation } from "react-i18next";
import { api, fieldSays, http, type PadDocument, type Problem } from "../../api/client";
import { ChoiceField, FileField, FileSays } from "../../parts/figure-field";

/** Begin with another pool's pad, or with a file. */
export function StartFrom({ onDocument }: { onDocument: (d: PadDocument) => void }) {
  const { t } = useTranslation();
  const pools = api.useQuery("get", "/api/pools");
  const [says, setSays] = useState<Record<string, string>>({});
  const copy = async (id: string) => {
    if (!id) return;
    const { data } = await http.GET("/api/pools/{id}/pad", { params: { path: { id } } });
    if (data) onDocument(data.document);
  };
  const read = async (text: string) => {
    const { data, error } = await http.POST("/api/pads/read", { body: { text } });
    setSays(error ? fieldSays(error as Problem) : {});
    if (data) onDocument(data);
  };
  return (
    <fieldset>
      <legend>{t("pad.startFrom")}</legend>
      <ChoiceField
        id="copy-pad"
        label={t("pad.copyOf")}
        value=""
        options={[
          { value: "", label: t("pad.choose") },
          ...(pools.data ?? []).map((p) => ({ value: p.id, label: p.street })),
        ]}
        onChange={copy}
      />
      <FileField label={t("pad.file")} accept=".json,.inp,application/json,text/plain" onFile={read} />
      <FileSays says={says} />
    </fieldset>
  );
}
