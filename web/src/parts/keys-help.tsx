import { useEffect, useRef } from "react";
import { useTranslation } from "react-i18next";
import { useNavigate } from "react-router";

const keys = ["/", "j", "k", "r", "s", "n", "Enter", "?"];

const typing = (e: KeyboardEvent) =>
  e.target instanceof HTMLElement && /^(INPUT|TEXTAREA|SELECT)$/.test(e.target.tagName);

/** True when a key belongs to the page and not to a field, a sheet or the browser. */
export function isShortcut(e: KeyboardEvent): boolean {
  return !typing(e) && !e.ctrlKey && !e.metaKey && !e.altKey && !document.querySelector("dialog[open]");
}

/** The keys that work everywhere, and the list of all of them. */
export function KeysHelp() {
  const { t } = useTranslation();
  const go = useNavigate();
  const ref = useRef<HTMLDialogElement>(null);
  useEffect(() => {
    const onKey = (e: KeyboardEvent) => {
      if (!isShortcut(e)) return;
      if (e.key === "?") ref.current?.showModal();
      else if (e.key === "/") go("/pools", { state: { find: true } });
      else return;
      e.preventDefault();
    };
    addEventListener("keydown", onKey);
    return () => removeEventListener("keydown", onKey);
  }, [go]);
  return (
    <dialog ref={ref} className="keys" aria-labelledby="keys-head">
      <h2 id="keys-head">{t("keys.title")}</h2>
      <dl>
        {keys.map((k) => (
          <div key={k}>
            <dt>
              <kbd>{k}</kbd>
            </dt>
            <dd>{t(`keys.of.${k}`)}</dd>
          </div>
        ))}
      </dl>
      <button type="button" className="btn" onClick={() => ref.current?.close()}>
        {t("log.back")}
      </button>
    </dialog>
  );
}
