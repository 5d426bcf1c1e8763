import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useCallback, useSyncExternalStore } from "react";
import { useTranslation } from "react-i18next";
import { api, type PracticeAnswer, type PracticeAsk, type PracticeEvent } from "../../api/client";
import { casesHere, practiseHere } from "../../core/here";
import { useMe } from "../../frame/me";
import { keep, keptOf, onKept } from "../../kept/store";
import type { KeptPractice } from "../../kept/waiting";
import { now } from "../../parts/clock";

/** An attempt at a case: kept on this device until it is over and sent, worked by the core here. */
export function useAttempt(id: string) {
  const me = useMe();
  const { i18n } = useTranslation();
  const kept = useSyncExternalStore(onKept, () => keptOf<KeptPractice>(me.id, "practice", id));
  const record = api.useQuery("get", "/api/v1/practice", {}, { enabled: !kept });
  const ask: PracticeAsk | undefined = kept?.ask ?? record.data?.attempts.find((a) => a.id === id)?.ask;
  const reader = { lang: i18n.language, units: me.units };
  const answer = useQuery<PracticeAnswer>({
    queryKey: ["practised", id, reader, ask],
    queryFn: () => {
      if (!ask) throw new Error("there is no such attempt");
      return practiseHere(reader, ask);
    },
    enabled: Boolean(ask),
    placeholderData: keepPreviousData,
    networkMode: "always",
    staleTime: Number.POSITIVE_INFINITY,
    retry: false,
  });
  const over = answer.data?.view?.over ?? false;
  const title = answer.data?.view?.title ?? "";
  const act = useCallback(
    (event: PracticeEvent) => {
      // Begun on another device: gone on with here.
      const stands = keptOf<KeptPractice>(me.id, "practice", id) ?? (ask && { ask, title, at: now().toISOString() });
      if (!stands || over) return;
      const next = { ...stands.ask, events: [...stands.ask.events, event] };
      keep(me.id, "practice", id, { ...stands, ask: next, over: event.act === "leave" } satisfies KeptPractice);
    },
    [me.id, id, over, ask, title],
  );
  return { answer, ask, kept, act, missing: !kept && record.isSuccess && !ask, record };
}

/** The written cases: the core has them, with or without a line. */
export function useCases() {
  const me = useMe();
  const { i18n } = useTranslation();
  const reader = { lang: i18n.language, units: me.units };
  return useQuery({
    queryKey: ["practice-cases", reader],
    queryFn: () => casesHere(reader),
    networkMode: "always",
    staleTime: Number.POSITIVE_INFINITY,
  });
}

/** What a practice page lets somebody do. */
export type Do = (event: PracticeEvent) => void;
