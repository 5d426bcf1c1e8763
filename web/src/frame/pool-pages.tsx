import { useTranslation } from "react-i18next";
import { NavLink } from "react-router";

/** The pages of one pool. */
const pages = [
  "",
  "/due",
  "/paths",
  "/clean-line",
  "/limits",
  "/plan",
  "/inspection",
  "/pad",
  "/about",
  "/papers",
] as const;

export function PoolPages({ id }: { id: string }) {
  const { t } = useTranslation();
  return (
    <nav className="pool-pages" aria-label={t("pages.label")}>
      {pages.map((p) => (
        <NavLink key={p} to={`/pools/${id}${p}`} end={p !== "/papers"}>
          {t(`pages.${p.slice(1) || "record"}`)}
        </NavLink>
      ))}
    </nav>
  );
}
