import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useCallback, useSyncExternalStore } from "react";
import { useTranslation } from "react-i18next";
import { api, type PracticeAnswer, type PracticeAsk, type PracticeEvent } from "../../api/client";
import { practiseHere } from "../../core/here";
import { useMe } from "../../frame/me";
import { keep, keptOf, onKept } from "../../kept/store";
import type { KeptPractice } from "../../kept/waiting";

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
  const act = useCallback(
    (event: PracticeEvent) => {
      const stands = keptOf<KeptPractice>(me.id, "practice", id);
      if (!stands || over) return;
      const ask = { ...stands.ask, events: [...stands.ask.events, event] };
      keep(me.id, "practice", id, { ...stands, ask, over: event.act === "leave" } satisfies KeptPractice);
    },
    [me.id, id, over],
  );
  return { answer, ask, kept, act, missing: !kept && record.isSuccess && !ask, record };
}

/** What a practice page lets somebody do. */
export type Do = (event: PracticeEvent) => void;
