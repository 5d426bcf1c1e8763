import type { ReactNode } from "react";
import { useParams } from "react-router";
import { api, type PadOnRecord } from "../api/client";
import { Loading, Trouble } from "../parts/quiet-states";
import { Undescribed } from "../parts/undescribed";
import { Page } from "./page";
import { PoolPages } from "./pool-pages";

/** A page about one pool's pad: the frame, and the pad once it is here; of one that nobody has described, the door to that. */
export function PadPage({ of, describes }: { of: (pad: PadOnRecord) => ReactNode; describes?: boolean }) {
  const { id = "" } = useParams();
  const pad = api.useQuery("get", "/api/v1/pools/{id}/pad", { params: { path: { id } } });
  return (
    <Page>
      {pad.data && (describes || !pad.data.document.presumed) && of(pad.data)}
      {pad.data?.document.presumed && !describes && (
        <>
          <header className="top">
            <h1>{pad.data.street}</h1>
          </header>
          <PoolPages id={id} />
          <Undescribed pool={id} />
        </>
      )}
      {!pad.data && pad.isError && <Trouble error={pad.error} onRetry={() => pad.refetch()} />}
      {!pad.data && !pad.isError && <Loading />}
    </Page>
  );
}
