import { useState } from "react";
import { useTranslation } from "react-i18next";
import { api, fieldSays, http, type PadDocument, type Problem } from "../../api/client";
import { ChoiceField, FileSays } from "../../parts/figure-field";

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
  const read = async (file: File | undefined) => {
    if (!file) return;
    const { data, error } = await http.POST("/api/pads/read", { body: { text: await file.text() } });
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
      <label className="ff">
        {t("pad.file")}
        <input
          type="file"
          accept=".json,.inp,application/json,text/plain"
          onChange={(e) => read(e.target.files?.[0])}
        />
      </label>
      <FileSays says={says} />
    </fieldset>
  );
}
