import { Button } from "antd";
import { useTranslation } from "react-i18next";
import { NavLink, useSearchParams } from "react-router";
import type { PaperName } from "../api/client";
import styles from "./paper-doors.module.css";

/** The papers to choose from. */
export function PaperDoors({
  papers,
  to,
  pdf,
}: {
  papers: PaperName[];
  to: (paper: string) => string;
  /** Where a paper's file is, to be had without opening it. */
  pdf?: (paper: string) => string;
}) {
  const { t } = useTranslation();
  const [search] = useSearchParams();
  const at = search.get("of") ?? "";
  return (
    <ul className={styles["paper-doors"]}>
      {papers.map((p) => (
        <li key={p.kind + p.of}>
          <NavLink
            to={to(p.kind) + (p.of ? `?of=${p.of}` : "")}
            data-paper={p.kind}
            className={({ isActive }) => (isActive && at === p.of ? "here" : "")}
          >
            {p.name}
          </NavLink>
          {pdf && (
            <Button size="small" data-pdf={p.kind} href={pdf(p.kind) + (p.of ? `?of=${p.of}` : "")} download>
              {t("papers.pdf")}
            </Button>
          )}
        </li>
      ))}
    </ul>
  );
}
