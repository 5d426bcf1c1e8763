import { Button, QRCode } from "antd";
import { useEffect, useState } from "react";
import { useTranslation } from "react-i18next";
import styles from "./link-drawer.module.css";
import { StateMark } from "./state-mark";

/** A link that was just made: copied at once, to be sent, or held up to be photographed. */
export function LinkWays({ link, title }: { link: string; title: string }) {
  const { t } = useTranslation();
  const [copied, setCopied] = useState<boolean | null>(null);
  const copy = (text: string) =>
    (navigator.clipboard?.writeText(text) ?? Promise.reject(new Error("no clipboard"))).then(
      () => setCopied(true),
      () => setCopied(false),
    );
  // biome-ignore lint/correctness/useExhaustiveDependencies: once for each link
  useEffect(() => {
    copy(link);
  }, [link]);
  return (
    <>
      <p className="state-line" role="status">
        <StateMark mark={copied === false ? "act" : "fine"} />
        {t(copied === false ? "share.notCopied" : "share.copied")}
      </p>
      <a id="share-link" className={styles.link} href={link} target="_blank" rel="noreferrer">
        {link}
      </a>
      <div className={styles.ways}>
        <Button id="share-copy" onClick={() => copy(link)}>
          {t("share.copy")}
        </Button>
        {"share" in navigator && (
          <Button id="share-send" onClick={() => navigator.share({ title, url: link }).catch(() => {})}>
            {t("share.send")}
          </Button>
        )}
      </div>
      <span aria-hidden="true">
        <QRCode type="svg" value={link} size={220} color="black" bgColor="white" />
      </span>
    </>
  );
}
