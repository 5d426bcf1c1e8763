import { useDeferredValue } from "react";
import { useParams } from "react-router";
import { api } from "../../api/client";
import { Page } from "../../frame/page";
import { Loading, Trouble } from "../../parts/quiet-states";
import { BenchAtWork } from "./bench-at-work";

/** Milliseconds until a stop is asked for again: after trouble, and for what another device did there. */
const soon = 3000;
const whatOthersDo = 30_000;

export function BenchView() {
  const { id = "" } = useParams();
  const bench = api.useQuery(
    "get",
    "/api/v1/stops/{id}",
    { params: { path: { id } } },
    { refetchInterval: ({ state }) => (state.status === "error" ? soon : whatOthersDo) },
  );
  // Drawn in slices: a slow phone answers a finger meanwhile.
  const drawn = useDeferredValue(bench.data, undefined);
  if (drawn?.stopId === id) return <BenchAtWork key={id} bench={drawn} />;
  return <Page>{bench.isError ? <Trouble error={bench.error} onRetry={() => bench.refetch()} /> : <Loading />}</Page>;
}
