import type { Query, QueryClient, QueryFunctionContext } from "@tanstack/react-query";
import { givenUp, mayPass } from "../api/client";
import { onLineBack, tellLine } from "../api/line";
import { ticks } from "../parts/clock";
import { goodFor } from "./age";
import { database } from "./database";
import { forgetFirst } from "./first";

/** Milliseconds that the server is waited for before what is kept is shown. */
const patience = 1500;

/** The longest answer that is kept, in letters: a long list is no use at a pad. */
const longest = 1_000_000;

let who = "";

/** Whose answers are kept and read from now on. */
export function answersAreOf(id: string): void {
  who = id;
}

/** Who is here is asked before anybody is known. */
const isMe = (ask: string) => ask.includes('"/api/v1/me"');
const keyOf = (ask: string): [string, string] | undefined => (isMe(ask) ? ["", ask] : who ? [who, ask] : undefined);

/** An answer that is kept and still good. */
export const keptAnswer = async (ask: string): Promise<unknown> => (await read(ask))?.answer;

async function read(ask: string): Promise<{ answer: unknown; at: number } | undefined> {
  const key = keyOf(ask);
  if (!key) return undefined;
  try {
    const kept = await (await database()).get("answers", key);
    const good = kept && kept.contract === __CONTRACT__ && ticks() - kept.at < goodFor;
    if (!good) return undefined;
    const answer = JSON.parse(kept.value);
    // The server's clock went on since it told the time.
    if (answer.me?.now) answer.me.now = new Date(Date.parse(answer.me.now) + ticks() - kept.at).toISOString();
    return { answer, at: kept.at };
  } catch {
    return undefined; // the browser gives no store
  }
}

/** Keeps an answer for a day without a line. */
export async function keepAnswer(ask: string, answer: unknown): Promise<void> {
  const key = keyOf(ask);
  const value = JSON.stringify(answer);
  if (!key || !value || value.length > longest) return;
  try {
    const nobody = isMe(ask) && !(answer as { me?: unknown }).me;
    const store = (await database()).transaction("answers", "readwrite").store;
    // Whoever signed out, left, or lost this device leaves nothing of a customer's on it.
    if (nobody) {
      forgetFirst();
      await store.clear();
    } else await store.put({ who: key[0], ask, at: ticks(), contract: __CONTRACT__, value });
  } catch {
    // No room: the page goes on with what the server says.
  }
}

type Ask = (context: QueryFunctionContext) => unknown;

/**
 * Asks the server, and shows what is kept where it does not answer: at once without a line, after
 * a moment on a slow one, whose answer then takes its place. What is old is asked for again when
 * the line is back.
 */
export function serverFirst(client: () => QueryClient) {
  const old = new Set<string>();
  onLineBack(() => {
    client().invalidateQueries({ predicate: (q) => old.has(q.queryHash) });
    old.clear();
  });
  return async (ask: Ask, context: QueryFunctionContext, query: Query) => {
    if (query.queryKey[0] !== "get") return ask(context);
    const { queryHash: hash } = query;
    const asked = Promise.resolve(ask(context)).then((answer) => {
      keepAnswer(hash, answer);
      old.delete(hash);
      return answer;
    });
    if (query.state.data !== undefined) return asked;
    const kept = read(hash);
    const late = new Promise<"late">((is) => setTimeout(() => is("late"), patience));
    try {
      const first = await Promise.race([asked, late]);
      const shown = first === "late" ? await kept : undefined;
      if (!shown) return await asked;
      asked.then(
        (answer) => {
          // Asked for again meanwhile, it is newer than this.
          if (client().getQueryData(query.queryKey) === shown.answer) client().setQueryData(query.queryKey, answer);
        },
        () => {
          old.add(hash);
          tellLine(false, shown.at);
        },
      );
      return shown.answer;
    } catch (error) {
      const shown = mayPass(error) && !givenUp(error) ? await kept : undefined;
      if (!shown) throw error;
      old.add(hash);
      tellLine(false, shown.at);
      return shown.answer;
    }
  };
}
