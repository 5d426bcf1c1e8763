import { Modal } from "antd";
import { useTranslation } from "react-i18next";
import { Tool } from "../parts/glyphs";
import { type Mark, StateMark } from "../parts/state-mark";
import styles from "./keys.module.css";

/** The keys of the whole product, in the order that a stop is worked. */
const keys = ["f", ".", ",", "g", "e", "n", "Enter", "h"];

const marks: Mark[] = ["stop", "act", "fine", "hold", "open", "job"];

/** What the marks, the lines and the figures mean, and every key. */
export default function Keys({ open, onClose }: { open: boolean; onClose: () => void }) {
  const { t } = useTranslation();
  return (
    <Modal open={open} onCancel={onClose} footer={null} title={t("keys.title")} closeIcon={<Tool name="no" />}>
      <div className={styles.keys} id="keys">
        <section>
          <h3>{t("keys.marks")}</h3>
          <dl>
            {marks.map((m) => (
              <div key={m}>
                <dt>
                  <StateMark mark={m} size={20} />
                </dt>
                <dd>{t(`keys.mark.${m}`)}</dd>
              </div>
            ))}
            <div>
              <dt>
                <span className="fig">18</span>
              </dt>
              <dd>{t("keys.measured")}</dd>
            </div>
            <div>
              <dt>
                <span className="exp">12</span>
              </dt>
              <dd>{t("keys.expected")}</dd>
            </div>
          </dl>
        </section>
        <section className={styles.ofKeys}>
          <h3>{t("keys.head")}</h3>
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
        </section>
      </div>
    </Modal>
  );
}
