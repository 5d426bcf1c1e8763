import { Upload } from "antd";
import { useTranslation } from "react-i18next";
import styles from "./drop.module.css";

/** A place for one file: dropped, pasted or chosen. The same may be given again once it is mended. */
export function Drop({
  id,
  label,
  accept,
  busy,
  onFile,
}: {
  id?: string;
  label: string;
  accept: string;
  busy?: boolean;
  onFile: (file: File) => void;
}) {
  const { t } = useTranslation();
  return (
    <div className={`ff ${styles.drop}`}>
      <Upload.Dragger
        id={id}
        accept={accept}
        disabled={busy}
        maxCount={1}
        pastable
        showUploadList={false}
        beforeUpload={(file) => {
          onFile(file);
          return false;
        }}
      >
        <b>{label}</b> <span>{t("file.drop")}</span>
      </Upload.Dragger>
    </div>
  );
}
