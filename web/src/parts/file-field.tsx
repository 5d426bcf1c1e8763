import { useTranslation } from "react-i18next";
import { Drop } from "./drop";
import styles from "./file-field.module.css";

/** A file to read; the same file may be chosen again once it is mended. */
export function FileField({
  label,
  accept,
  id,
  onFile,
}: {
  label: string;
  accept: string;
  id?: string;
  onFile: (text: string) => void;
}) {
  return <Drop id={id} label={label} accept={accept} onFile={async (file) => onFile(await file.text())} />;
}

/** Says what a refused file said, line by line. */
export function FileSays({ says }: { says: Record<string, string> }) {
  const { t } = useTranslation();
  const lines = Object.entries(says);
  if (!lines.length) return null;
  return (
    <ul className={styles["file-says"]} role="alert">
      {lines.slice(0, 8).map(([at, say]) => (
        <li key={at} className="field-says">
          {at.replace(/^text\.?/, "")}
          {at === "text" ? "" : ": "}
          {say}
        </li>
      ))}
      {lines.length > 8 && <li>{t("file.more", { count: lines.length - 8 })}</li>}
    </ul>
  );
}
