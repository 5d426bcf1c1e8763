import { useParams } from "react-router";
import { api } from "../../api/client";
import type { FrameProps } from "../../parts/frame";
import { Loading, Trouble } from "../../parts/quiet-states";
import { Strip } from "../../parts/strip";
import { BenchAtWork } from "./bench-at-work";

export function BenchView(frame: FrameProps) {
  const { id = "" } = useParams();
  const bench = api.useQuery("get", "/api/v1/stops/{id}", { params: { path: { id } } });
  if (bench.data) return <BenchAtWork key={id} frame={frame} bench={bench.data} />;
  return (
    <div className="frame plain">
      <Strip {...frame} current={id} />
      <main className="whole">
        {bench.isError ? <Trouble error={bench.error} onRetry={() => bench.refetch()} /> : <Loading />}
      </main>
    </div>
  );
}
