import { keepPreviousData } from "@tanstack/react-query";
import { Select } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { api, fieldSays, http, type PadDocument, type Problem } from "../../api/client";
import { FileField, FileSays } from "../../parts/file-field";
import { useSettled } from "../../parts/use-settled";

/** Begin with another pool's pad, or with a file. */
export function StartFrom({ onDocument }: { onDocument: (d: PadDocument) => void }) {
  const { t } = useTranslation();
  const [find, setFind] = useState("");
  const wanted = useSettled(find.trim());
  const pools = api.useQuery(
    "get",
    "/api/v1/pools",
    { params: { query: { find: wanted } } },
    { placeholderData: keepPreviousData },
  );
  const [says, setSays] = useState<Record<string, string>>({});
  const copy = async (id: string) => {
    if (!id) return;
    const { data } = await http.GET("/api/v1/pools/{id}/pad", { params: { path: { id } } });
    if (data) onDocument(data.document);
  };
  const read = async (text: string) => {
    const { data, error } = await http.POST("/api/v1/pads/read", { body: { text } });
    setSays(error ? fieldSays(error as Problem) : {});
    if (data) onDocument(data);
  };
  return (
    <fieldset>
      <legend>{t("pad.startFrom")}</legend>
      <label className="field" htmlFor="copy-pad">
        <span>{t("pad.copyOf")}</span>
        <Select<string>
          id="copy-pad"
          value={null}
          placeholder={t("pad.choose")}
          showSearch={{ filterOption: false, onSearch: setFind }}
          notFoundContent={t("pools.noneFound")}
          options={pools.data?.items.filter((x) => !x.archived).map((x) => ({ value: x.id, label: x.street }))}
          onChange={copy}
        />
      </label>
      <FileField label={t("pad.file")} accept=".json,.inp,application/json,text/plain" onFile={read} />
      <FileSays says={says} />
    </fieldset>
  );
}
