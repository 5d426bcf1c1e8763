import { useQueryClient } from "@tanstack/react-query";
import { Button, Input } from "antd";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { api, type Problem } from "../../api/client";
import { FieldLine } from "../../parts/field-line";
import { Fold } from "../../parts/fold";
import { longDay } from "../../parts/format";
import { StateMark } from "../../parts/state-mark";

/** The secret address under which a calendar program reads these days. It is shown once, when it is made. */
export function CalendarAddress() {
  const { t } = useTranslation();
  const queries = useQueryClient();
  const feed = api.useQuery("get", "/api/v1/calendar-feed");
  const [secret, setSecret] = useState("");
  const settled = (made: string) => {
    setSecret(made);
    queries.invalidateQueries({ queryKey: api.queryOptions("get", "/api/v1/calendar-feed").queryKey });
  };
  const open = api.useMutation("post", "/api/v1/calendar-feed", { onSuccess: (f) => settled(f.secret) });
  const close = api.useMutation("delete", "/api/v1/calendar-feed", { onSuccess: () => settled("") });
  const problem = (open.error ?? close.error) as Problem | null;
  return (
    <Fold id="calendar" head={t("calendar.title")}>
      <p>{t("calendar.what")}</p>
      {secret && (
        <FieldLine id="calendar-address" label={t("calendar.address")}>
          <Input
            id="calendar-address"
            readOnly
            value={`${window.location.origin}/api/calendar/${secret}.ics`}
            onFocus={(e) => e.target.select()}
          />
        </FieldLine>
      )}
      {feed.data?.since && !secret && <p>{t("calendar.since", { at: longDay(feed.data.since) })}</p>}
      {problem && (
        <p className="state-line" role="alert">
          <StateMark mark="act" />
          <span>{problem.detail ?? t("state.offline")}</span>
        </p>
      )}
      <div className="decide">
        <Button size="small" disabled={open.isPending} onClick={() => open.mutate({})}>
          {t(feed.data?.since ? "calendar.again" : "calendar.make")}
        </Button>
        {feed.data?.since && (
          <Button size="small" disabled={close.isPending} onClick={() => close.mutate({})}>
            {t("calendar.end")}
          </Button>
        )}
      </div>
    </Fold>
  );
}
