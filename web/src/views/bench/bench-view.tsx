import { useParams } from "react-router";
import { api } from "../../api/client";
import { Page } from "../../frame/page";
import { Loading, Trouble } from "../../parts/quiet-states";
import { BenchAtWork } from "./bench-at-work";

export function BenchView() {
  const { id = "" } = useParams();
  const bench = api.useQuery("get", "/api/v1/stops/{id}", { params: { path: { id } } });
  if (bench.data) return <BenchAtWork key={id} bench={bench.data} />;
  return <Page>{bench.isError ? <Trouble error={bench.error} onRetry={() => bench.refetch()} /> : <Loading />}</Page>;
}
