import type { QueryClient } from "@tanstack/react-query";
import { api, fieldSays, http, type Inspection, type RunView } from "../api/client";
import { sentAs } from "../api/proof";
import type { Changed } from "../api/use-changed";
import { now, ticks } from "../parts/clock";
import { answersOf } from "../parts/inspection-answers";
import { asVisit, type Draft } from "../parts/visit-draft";
import { changes, putChange } from "./changes";
import { type Answer, fateOf, type Later, problemOf } from "./fate";
import { keepSent } from "./sent";
import { forget, keep, keptOf } from "./store";
import {
  type KeptChange,
  type KeptInspection,
  type KeptPhoto,
  type KeptPractice,
  type KeptRun,
  refusalOf,
  type SentKind,
  type Waits,
} from "./waiting";

/**
 * How a try went: sent; to be tried later, and why; to be looked at soon, when it has settled or over
 * what another device did; or nothing to send.
 */
export type Outcome = "sent" | Later | "soon" | "nothing";

/** What a sender tells of what it did. */
export interface Hands {
  queries: QueryClient;
  changed: (what: Changed) => void;
}

/** Milliseconds that an answer stands before it is sent: a figure is typed in several keys. */
const settles = 600;

/** Says to the server which send this is, whose it is (under another's session it is refused) and when it was made. */
const by = (id: string, who: string, at?: string) => ({ ...sentAs(id), "Made-By": who, ...(at && { "Made-At": at }) });

/** A visit's findings sit one level deeper than the bench's. */
const renamed = (fields: Record<string, string>) =>
  Object.fromEntries(Object.entries(fields).map(([k, v]) => [k.replace(/^findings\./, ""), v]));

async function sendVisit({ who, id }: Waits, { changed }: Hands): Promise<Outcome> {
  const draft = keptOf<Draft>(who, "visit", id);
  if (!draft?.closedAt || draft.refused) return "nothing";
  const answer = await http.POST("/api/v1/visits", { body: asVisit(id, draft), headers: by(id, who) });
  const fate = fateOf(answer, id);
  if (fate !== "taken" && fate !== "refused") return fate;
  // What was typed meanwhile in another tab stays as it is there.
  const stands = keptOf<Draft>(who, "visit", id);
  if (stands?.visitId !== draft.visitId || !stands.closedAt) return "nothing";
  if (fate === "taken") {
    keepSent(who, "visit", id, draft);
    keep(who, "saved", id, { visit: answer.data?.id ?? draft.visitId, at: now().toISOString(), draft });
    forget(who, "visit", id);
    changed("pool");
    return "sent";
  }
  const problem = problemOf(answer);
  keep(who, "visit", id, { ...stands, refused: refusalOf(problem, renamed(fieldSays(problem))) });
  return "nothing";
}

/** The first event that was refused: those before it are sound, and are sent again without it. */
const firstWrong = (says: Record<string, string>) => {
  const at = Object.keys(says).map((k) => Number(/^events\[(\d+)\]/.exec(k)?.[1] ?? 0));
  return at.length ? Math.min(...at) : 0;
};

/** A run's answer is the run: one that lost it on the way is asked again, which changes nothing there. */
const fateOfRun = (answer: Answer<RunView>, id: string) => {
  const fate = fateOf(answer, id);
  return fate === "taken" && !answer.data ? "between" : fate;
};

/** Tells the server of a run that was begun here. */
async function sendBegun(who: string, id: string, { begun, ...kept }: KeptRun): Promise<Outcome> {
  if (!begun) return "sent";
  const answer = await http.POST("/api/v1/pools/{id}/runs", {
    params: { path: { id: begun.pool } },
    body: { ...begun.ask, begun: true },
    headers: by(id, who, begun.at),
  });
  const fate = fateOfRun(answer, id);
  if (fate !== "taken" && fate !== "refused") return fate;
  const stands = keptOf<KeptRun>(who, "run", id) ?? kept;
  if (fate === "taken" && answer.data) {
    keepSent(who, "run", id, { queue: [], last: answer.data, begun });
    keep(who, "run", id, { ...stands, last: answer.data, begun: undefined });
    return "sent";
  }
  const problem = problemOf(answer);
  keep(who, "run", id, { ...stands, refused: refusalOf(problem, fieldSays(problem)) });
  return "nothing";
}

async function sendRun({ who, id }: Waits, { queries, changed }: Hands): Promise<Outcome> {
  const known = keptOf<KeptRun>(who, "run", id);
  if (!known || known.refused) return "nothing";
  const begun = await sendBegun(who, id, known);
  if (begun !== "sent") return begun;
  const sent = keptOf<KeptRun>(who, "run", id)?.queue ?? [];
  if (sent.length === 0) return known.begun ? "sent" : "nothing";
  const path = { params: { path: { id } } };
  const answer = await http.POST("/api/v1/runs/{id}/events", {
    ...path,
    body: { events: sent },
    headers: by(id, who),
  });
  const fate = fateOfRun(answer, id);
  if (fate !== "taken" && fate !== "refused") return fate;
  const kept = keptOf<KeptRun>(who, "run", id);
  const rest = (gone: typeof sent) => (kept?.queue ?? []).filter((e) => !gone.some((g) => g.id === e.id));
  const stands = (run: RunView, queue: typeof sent, more: Partial<KeptRun>) => {
    queries.setQueryData(api.queryOptions("get", "/api/v1/runs/{id}", path).queryKey, run);
    // Over and on record: the device keeps it no longer.
    if (run.ended && queue.length === 0 && !more.moved) forget(who, "run", id);
    else keep(who, "run", id, { ...kept, queue, last: run, ...more });
  };
  if (fate === "taken" && answer.data) {
    keepSent(who, "run", id, { queue: sent, last: answer.data });
    stands(answer.data, rest(sent), {});
    if (answer.data.ended) changed("pool");
    return "sent";
  }
  const problem = problemOf(answer);
  const other = problem.errors?.[0]?.value as RunView | undefined;
  if (problem.status === 409 && other) stands(other, rest(sent), { moved: problem.detail ?? "" });
  else {
    const says = fieldSays(problem);
    if (Object.keys(says).length === 0) {
      // Of no field: nobody can mend it here, and what was done stays until somebody says so.
      keep(who, "run", id, { ...kept, refused: refusalOf(problem, says) });
      return "nothing";
    }
    keep(who, "run", id, { ...kept, queue: rest(sent.slice(firstWrong(says))), says, moved: undefined });
  }
  return "soon";
}

async function sendInspection({ who, id }: Waits, { queries, changed }: Hands): Promise<Outcome> {
  const kept = keptOf<KeptInspection>(who, "inspection", id);
  if (!kept || kept.refused) return "nothing";
  const all = Object.entries(kept.mine);
  const settled = kept.closing ? all : all.filter(([, typed]) => (typed.at ?? 0) + settles <= ticks());
  if (settled.length === 0 && !kept.closing && !kept.begun) return all.length ? "soon" : "nothing";
  const path = { params: { path: { id } } };
  const { queryKey } = api.queryOptions("get", "/api/v1/inspections/{id}", path);
  if (kept.begun) {
    const { pool, at } = kept.begun;
    const answer = await http.POST("/api/v1/pools/{id}/inspections", {
      params: { path: { id: pool } },
      body: { id, begun: true },
      headers: by(id, who, at),
    });
    const fate = fateOf(answer, id);
    if (fate !== "taken" && fate !== "refused") return fate;
    const now = keptOf<KeptInspection>(who, "inspection", id) ?? kept;
    if (fate === "refused") {
      const problem = problemOf(answer);
      keep(who, "inspection", id, { ...now, refused: refusalOf(problem, fieldSays(problem)) });
      return "nothing";
    }
    queries.setQueryData(queryKey, answer.data);
    keepSent(who, "inspection", id, { mine: {}, street: kept.street, begun: kept.begun });
    const { begun: _, ...rest } = now;
    if (Object.keys(rest.mine).length || rest.closing) keep(who, "inspection", id, rest);
    else forget(who, "inspection", id);
    return "sent";
  }
  let stands = queries.getQueryData(queryKey) as Inspection | undefined;
  if (!stands) {
    const got = await http.GET("/api/v1/inspections/{id}", path);
    if (!got.data) return "busy";
    stands = got.data;
  }
  const mine = Object.fromEntries(settled);
  const { answers, wrong } = answersOf(stands, mine);
  const taken = Object.keys(mine).filter((item) => !wrong.includes(item));
  if (taken.length === 0 && !kept.closing) return all.length > settled.length ? "soon" : "nothing";
  const close = Boolean(kept.closing) && wrong.length === 0;
  const answer = await http.PUT("/api/v1/inspections/{id}", {
    ...path,
    body: { answers, version: stands.version, close },
    headers: by(id, who, kept.closing),
  });
  const fate = fateOf(answer, id);
  if (fate !== "taken" && fate !== "refused") return fate;
  const left = keptOf<KeptInspection>(who, "inspection", id) ?? { mine: {} };
  if (fate === "taken") {
    queries.setQueryData(queryKey, answer.data);
    const gone = Object.fromEntries(settled.filter(([item]) => taken.includes(item)));
    keepSent(who, "inspection", id, { mine: gone, street: kept.street, closing: close ? kept.closing : undefined });
    const rest = Object.entries(left.mine).filter(([item, typed]) => typed !== mine[item] || !taken.includes(item));
    if (close || (rest.length === 0 && !left.closing)) forget(who, "inspection", id);
    else keep(who, "inspection", id, { ...left, mine: Object.fromEntries(rest) });
    if (close) changed("pool");
    return "sent";
  }
  const problem = problemOf(answer);
  if (problem.status === 409) {
    const got = await http.GET("/api/v1/inspections/{id}", path);
    if (got.data) queries.setQueryData(queryKey, got.data);
    keep(who, "inspection", id, { ...left, joined: true });
    return "soon";
  }
  const fields = fieldSays(problem);
  keep(who, "inspection", id, { ...left, closing: undefined, refused: refusalOf(problem, fields) });
  return "nothing";
}

async function sendPhoto({ who, id }: Waits, { changed }: Hands): Promise<Outcome> {
  const photo = keptOf<KeptPhoto>(who, "photo", id);
  if (!photo || photo.refused) return "nothing";
  const response = await fetch(
    `/api/v1/pools/${photo.pool}/photos?${new URLSearchParams({ ...photo.ask, photo: id })}`,
    {
      method: "POST",
      headers: { "Content-Type": "application/octet-stream", ...by(id, who, photo.at) },
      body: photo.picture,
    },
  );
  const fate = fateOf({ response }, id);
  if (fate === "taken") {
    keepSent(who, "photo", id, photo);
    forget(who, "photo", id);
    changed("beside");
    return "sent";
  }
  if (fate !== "refused") return fate;
  const problem = problemOf({ response, error: await response.json().catch(() => undefined) });
  keep(who, "photo", id, { ...photo, refused: refusalOf(problem, fieldSays(problem)) });
  return "nothing";
}

async function sendChange({ who, id }: Waits, { changed }: Hands): Promise<Outcome> {
  const change = keptOf<KeptChange>(who, "change", id);
  if (!change || change.refused) return "nothing";
  const answer = await putChange(change, by(id, who, change.at));
  const fate = fateOf(answer, id);
  if (fate === "taken") {
    keepSent(who, "change", id, change);
    forget(who, "change", id);
    changed(changes[change.what].changed);
    return "sent";
  }
  if (fate !== "refused") return fate;
  const problem = problemOf(answer);
  // What was made of it meanwhile stands, and is sent next.
  if (keptOf<KeptChange>(who, "change", id) === change)
    keep(who, "change", id, { ...change, refused: refusalOf(problem, fieldSays(problem)) });
  return "nothing";
}

async function sendPractice({ who, id }: Waits, { changed, queries }: Hands): Promise<Outcome> {
  const kept = keptOf<KeptPractice>(who, "practice", id);
  if (!kept?.over || kept.refused) return "nothing";
  const answer = await http.PUT("/api/v1/practice/attempts/{id}", {
    params: { path: { id } },
    body: { ask: kept.ask, ...(kept.task && { task: kept.task }) },
    headers: by(id, who, kept.at),
  });
  const fate = fateOf(answer, id);
  if (fate !== "taken" && fate !== "refused") return fate;
  if (fate === "taken") {
    // The page that shows it reads it from the record from now on.
    await queries.fetchQuery({ ...api.queryOptions("get", "/api/v1/practice"), staleTime: 0 }).catch(() => undefined);
    keepSent(who, "practice", id, kept);
    forget(who, "practice", id);
    changed("practice");
    return "sent";
  }
  const problem = problemOf(answer);
  keep(who, "practice", id, { ...kept, refused: refusalOf(problem, fieldSays(problem)) });
  return "nothing";
}

/** In this order: an inspection's pictures need it, a visit takes along what its runs did. */
export const senders: Record<SentKind, (w: Waits, hands: Hands) => Promise<Outcome>> = {
  run: sendRun,
  inspection: sendInspection,
  photo: sendPhoto,
  change: sendChange,
  visit: sendVisit,
  practice: sendPractice,
};
