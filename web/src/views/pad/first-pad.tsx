import { Button } from "antd";
import { useTranslation } from "react-i18next";
import { useNavigate } from "react-router";
import { api, type PadOnRecord, type Problem } from "../../api/client";
import { useChanged } from "../../api/use-changed";
import { PoolPages } from "../../frame/pool-pages";
import { useKept } from "../../kept/use-kept";
import { Trouble } from "../../parts/quiet-states";
import { KindOfPad } from "./kind-of-pad";
import { LeastForm, useSketch } from "./least-form";
import styles from "./pad.module.css";
import { freshDraft, type PadDraft } from "./pad-draft";
import { StartFrom } from "./start-from";

/** The first description of a pad that a pool came without: what it looks like, its plates, one length. */
export function FirstPad({ pad, onRefine }: { pad: PadOnRecord; onRefine: (draft: Partial<PadDraft>) => void }) {
  const { t } = useTranslation();
  const go = useNavigate();
  const changed = useChanged();
  const { value: draft, change, clear } = useKept<PadDraft>("pad", pad.poolId, freshDraft);
  const sketched = useSketch(draft.least);
  const save = api.useMutation("put", "/api/v1/pools/{id}/pad");
  const put = () => {
    if (!sketched.doc) return;
    save.mutate(
      {
        params: { path: { id: pad.poolId } },
        body: {
          basedOn: pad.revision,
          reason: "description",
          note: "",
          document: { ...sketched.doc, poolGallons: pad.gallons },
        },
      },
      {
        onSuccess: () => {
          clear();
          changed("pool");
          go(`/pools/${pad.poolId}`);
        },
      },
    );
  };
  return (
    <>
      <header className="top">
        <h1>{pad.street}</h1>
        <span className="quiet">{t("pad.notYet")}</span>
      </header>
      <PoolPages id={pad.poolId} />
      <form className={styles["pad-form"]} onSubmit={(e) => e.preventDefault()} id="first-pad">
        <KindOfPad least={draft.least} onChange={(least) => change({ least })} />
        <LeastForm least={draft.least} says={sketched.says} onChange={(least) => change({ least })} />
        <StartFrom onDocument={(doc) => onRefine({ doc, basedOn: pad.revision, texts: {} })} />
        {save.isError && <Trouble error={save.error as Problem} onRetry={put} />}
        <p className="part-acts">
          <Button
            type="primary"
            size="large"
            id="keep-first-pad"
            disabled={!sketched.doc || save.isPending}
            onClick={put}
          >
            {t("pad.keepFirst")}
          </Button>
          <Button
            disabled={!sketched.doc}
            onClick={() => onRefine({ doc: sketched.doc, basedOn: pad.revision, texts: {} })}
          >
            {t("pad.refine")}
          </Button>
        </p>
      </form>
    </>
  );
}
