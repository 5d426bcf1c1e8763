import { Input, type InputRef, Modal } from "antd";
import { type KeyboardEvent, type ReactNode, useRef, useState } from "react";
import { useTranslation } from "react-i18next";
import { Link } from "react-router";
import { api } from "../api/client";
import { day } from "../parts/format";
import { Tool } from "../parts/glyphs";
import { useSettled } from "../parts/use-settled";
import styles from "./find.module.css";
import { useMe } from "./me";
import { mainPlaces, morePlaces } from "./places";

/** Lines of each kind that are shown. */
const few = 6;

interface Hit {
  to: string;
  name: string;
  more?: ReactNode;
}

/** Pools, customers, parts, people, work and pages by a few letters, from anywhere. */
export default function Find({ open, onClose }: { open: boolean; onClose: () => void }) {
  const { t } = useTranslation();
  const field = useRef<InputRef>(null);
  return (
    <Modal
      open={open}
      onCancel={onClose}
      afterOpenChange={(is) => is && field.current?.focus()}
      destroyOnHidden
      footer={null}
      title={t("find.title")}
      closeIcon={<Tool name="no" />}
    >
      <Found field={field} onClose={onClose} />
    </Modal>
  );
}

function Found({ field, onClose }: { field: React.Ref<InputRef>; onClose: () => void }) {
  const { t } = useTranslation();
  const [typed, setTyped] = useState("");
  const list = useRef<HTMLDivElement>(null);
  const groups = useGroups(typed.trim());
  /** The arrows go through what was found; Enter in the field opens the first of it. */
  const onKey = (e: KeyboardEvent) => {
    const links = [...(list.current?.querySelectorAll("a") ?? [])];
    const at = links.indexOf(document.activeElement as HTMLAnchorElement);
    if (e.key === "ArrowDown") links[Math.min(at + 1, links.length - 1)]?.focus();
    else if (e.key === "ArrowUp") links[Math.max(at - 1, 0)]?.focus();
    else if (e.key === "Enter" && at < 0) links[0]?.click();
    else return;
    e.preventDefault();
  };
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: its field and links are the ones that are reached
    <div className={styles.body} onKeyDown={onKey}>
      <Input
        ref={field}
        id="find-all"
        type="search"
        enterKeyHint="search"
        autoComplete="off"
        allowClear
        aria-label={t("find.title")}
        placeholder={t("find.what")}
        value={typed}
        onChange={(e) => setTyped(e.target.value)}
      />
      <div ref={list} className={styles.found} aria-live="polite" aria-busy={groups.busy}>
        {groups.found.map((g) => (
          <section key={g.kind} data-found={g.kind}>
            <h3>{t(`find.kind.${g.kind}`)}</h3>
            <ul>
              {g.hits.map((h) => (
                <li key={h.to + h.name}>
                  <Link to={h.to} onClick={onClose}>
                    <b>{h.name}</b>
                    {h.more && <span>{h.more}</span>}
                  </Link>
                </li>
              ))}
            </ul>
          </section>
        ))}
        {typed.trim() !== "" && !groups.busy && groups.found.length === 0 && <p>{t("find.none")}</p>}
      </div>
    </div>
  );
}

/** What some letters find, kind by kind. */
function useGroups(typed: string): { busy: boolean; found: { kind: string; hits: Hit[] }[] } {
  const { t } = useTranslation();
  const me = useMe();
  const find = useSettled(typed);
  const desk = me.role !== "technician";
  const enabled = find !== "";
  const query = { params: { query: { find, size: few } } };
  const pools = api.useQuery("get", "/api/v1/pools", query, { enabled });
  const parts = api.useQuery("get", "/api/v1/parts", query, { enabled });
  const runs = api.useQuery("get", "/api/v1/runs", query, { enabled });
  const customers = api.useQuery(
    "get",
    "/api/v1/customers",
    { params: { query: { q: find } } },
    { enabled: enabled && desk },
  );
  const people = api.useQuery("get", "/api/v1/people", {}, { enabled: enabled && desk });
  if (typed === "") return { busy: false, found: [] };
  const has = (name: string) => name.toLowerCase().includes(typed.toLowerCase());
  const groups: { kind: string; hits: Hit[] }[] = [
    {
      kind: "pools",
      hits: (pools.data?.items ?? []).map((p) => ({
        to: `/pools/${p.id}`,
        name: p.street,
        more: [p.customer, p.part || p.equipment].filter(Boolean).join(" · "),
      })),
    },
    {
      kind: "customers",
      hits: (customers.data ?? []).slice(0, few).map((c) => ({
        to: `/pools?find=${encodeURIComponent(c.name)}`,
        name: c.name,
        more: c.phone,
      })),
    },
    {
      kind: "parts",
      hits: (parts.data?.items ?? []).map((p) => ({
        to: `/pools/${p.poolId}/parts/${p.id}`,
        name: [p.name, p.model].filter(Boolean).join(" "),
        more: p.street,
      })),
    },
    {
      kind: "runs",
      hits: (runs.data?.items ?? []).map((r) => ({
        to: `/runs/${r.id}`,
        name: r.name,
        more: `${r.street} · ${day(r.startedAt)}`,
      })),
    },
    {
      kind: "people",
      hits: (people.data ?? [])
        .filter((p) => has(p.name))
        .slice(0, few)
        .map((p) => ({ to: "/office/people", name: p.name, more: t(`office.role.${p.role}`) })),
    },
    {
      kind: "pages",
      hits: [...mainPlaces, ...morePlaces(me), { to: "/pools/new", name: "pools.takeOn" }]
        .map((p) => ({ to: p.to, name: t(p.name) }))
        .filter((p) => has(p.name)),
    },
  ];
  return {
    busy: find !== typed || [pools, parts, runs, customers, people].some((q) => q.fetchStatus === "fetching"),
    found: groups.filter((g) => g.hits.length > 0),
  };
}
