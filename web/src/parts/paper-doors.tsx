import { NavLink, useSearchParams } from "react-router";
import type { PaperName } from "../api/client";
import styles from "./paper-doors.module.css";

/** The papers to choose from. */
export function PaperDoors({ papers, to }: { papers: PaperName[]; to: (paper: string) => string }) {
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
        </li>
      ))}
    </ul>
  );
}
