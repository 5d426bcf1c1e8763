import type { ReactNode } from "react";
import { useParams } from "react-router";
import { api, type PadOnRecord } from "../api/client";
import type { FrameProps } from "./frame";
import { Loading, Trouble } from "./quiet-states";
import { Strip } from "./strip";

/** A page about one pool's pad: the frame, and the pad once it is here. */
export function PadPage({ frame, of }: { frame: FrameProps; of: (pad: PadOnRecord) => ReactNode }) {
  const { id = "" } = useParams();
  const pad = api.useQuery("get", "/api/v1/pools/{id}/pad", { params: { path: { id } } });
  return (
    <div className="frame plain">
      <Strip {...frame} />
      <main className="whole">
        {pad.data && of(pad.data)}
        {!pad.data && pad.isError && <Trouble error={pad.error} onRetry={() => pad.refetch()} />}
        {!pad.data && !pad.isError && <Loading />}
      </main>
    </div>
  );
}
