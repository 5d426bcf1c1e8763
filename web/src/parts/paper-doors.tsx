import { NavLink, useSearchParams } from "react-router";
import type { PaperName } from "../api/client";

/** The papers to choose from. */
export function PaperDoors({ papers, to }: { papers: PaperName[]; to: (paper: string) => string }) {
  const [search] = useSearchParams();
  const at = search.get("visit") ?? "";
  return (
    <ul className="paper-doors">
      {papers.map((p) => (
        <li key={p.kind + p.visit}>
          <NavLink
            to={to(p.kind) + (p.visit ? `?visit=${p.visit}` : "")}
            data-paper={p.kind}
            className={({ isActive }) => (isActive && at === p.visit ? "here" : "")}
          >
            {p.name}
          </NavLink>
        </li>
      ))}
    </ul>
  );
}
