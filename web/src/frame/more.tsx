import { Button, Drawer } from "antd";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { api } from "../api/client";
import { useChanged } from "../api/use-changed";
import { Tool } from "../parts/glyphs";
import { useWide } from "../parts/use-wide";
import { setShade, useTheme } from "../theme/use-theme";
import { useMe, useSignOut } from "./me";
import styles from "./more.module.css";
import { type Over, useOver } from "./over";
import { morePlaces } from "./places";

/** Every other page, the list of keys and marks, the page's shade, the way out. */
export default function More({ open, onClose }: { open: boolean; onClose: () => void }) {
  const { t } = useTranslation();
  const me = useMe();
  const out = useSignOut();
  const wide = useWide();
  const theme = useTheme();
  const changed = useChanged();
  const put = api.useMutation("put", "/api/v1/me/reads", { onSettled: () => changed("everything") });
  /** The other shade at once, and on one's other devices once the server has it. */
  const toggle = () => {
    const shade = theme === "light" ? "dark" : "light";
    setShade(shade);
    put.mutate({ body: { lang: me.ownLang, units: me.ownUnits, shade } });
  };
  const over = useOver();
  const then = (what: Over) => () => over(what);
  return (
    <Drawer
      open={open}
      onClose={onClose}
      placement={wide ? "left" : "bottom"}
      size={wide ? 340 : "auto"}
      title={t("nav.more")}
      closeIcon={<Tool name="no" />}
    >
      <div className={styles.more} id="more-sheet">
        <p className="quiet">
          {me.name}
          {me.demo && ` · ${t("strip.demo")}`}
        </p>
        <nav className={styles.places} aria-label={t("nav.more")}>
          {morePlaces(me).map((p) => (
            <Link key={p.to} to={p.to} onClick={onClose}>
              {t(p.name)}
            </Link>
          ))}
        </nav>
        <div className={styles.acts}>
          <Button onClick={then("find")} id="more-find">
            <Tool name="find" />
            {t("find.open")}
          </Button>
          <Button onClick={then("keys")} id="more-keys">
            {t("keys.title")}
          </Button>
          <Button onClick={toggle} id="shade">
            {t(theme === "light" ? "nav.dark" : "nav.light")}
          </Button>
          <Button onClick={out} id="sign-out">
            {t("nav.signOut")}
          </Button>
        </div>
      </div>
    </Drawer>
  );
}
