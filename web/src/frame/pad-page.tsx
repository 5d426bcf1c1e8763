import type { ReactNode } from "react";
import { useParams } from "react-router";
import { api, type PadOnRecord } from "../api/client";
import { Loading, Trouble } from "../parts/quiet-states";
import { Page } from "./page";

/** A page about one pool's pad: the frame, and the pad once it is here. */
export function PadPage({ of }: { of: (pad: PadOnRecord) => ReactNode }) {
  const { id = "" } = useParams();
  const pad = api.useQuery("get", "/api/v1/pools/{id}/pad", { params: { path: { id } } });
  return (
    <Page>
      {pad.data && of(pad.data)}
      {!pad.data && pad.isError && <Trouble error={pad.error} onRetry={() => pad.refetch()} />}
      {!pad.data && !pad.isError && <Loading />}
    </Page>
  );
}
