import { Between } from "../api/proof";
import { ticks } from "../parts/clock";
import type { Later } from "./fate";
import { type Hands, type Outcome, senders } from "./senders";
import { settled, stayed, triesOf } from "./tries";
import { type SentKind, type Waits, waitsNow } from "./waiting";

const order = Object.keys(senders) as SentKind[];

/** Whether one thing needs another on record before it: a visit the jobs of its stop, a picture its inspection. */
function needs(w: Waits, other: Waits): boolean {
  if (w.who !== other.who) return false;
  if (w.kind === "visit") return other.kind === "run" && other.stop === w.id;
  if (w.kind === "photo") return other.kind === "inspection" && Boolean(other.begun) && other.id === w.of;
  return false;
}

/** What something waits for on this device, if anything. */
export const neededBy = (w: Waits, all: Waits[]): Waits | undefined => all.find((other) => needs(w, other));

const isLater = (o: Outcome): o is Later => o === "line" || o === "session" || o === "busy" || o === "between";

/** Why a send that threw did not arrive. */
const whyThrown = (error: unknown): Later => (error instanceof Between ? "between" : "line");

/** What a round of sends came to: whether something stayed, and when to look again (ms; undefined: not by itself). */
export interface Round {
  /** What the last thing that stayed stayed for. */
  stays?: Later;
  soon: boolean;
  sent: boolean;
}

/**
 * Sends once all that is due of somebody's. Each waits only for what it needs: what the server is in
 * trouble with stays, and the rest goes on. Without a line, or signed out, nothing more is tried.
 */
export async function sendAll(who: string, hands: Hands): Promise<Round> {
  const mine = waitsNow()
    .filter((w) => w.who === who && !w.refused)
    .sort((a, b) => order.indexOf(a.kind) - order.indexOf(b.kind));
  const round: Round = { soon: false, sent: false };
  let between = 0;
  for (const w of mine) {
    if ((triesOf(w)?.next ?? 0) > ticks()) {
      round.stays ??= triesOf(w)?.why;
      continue;
    }
    if (neededBy(w, waitsNow())) continue;
    const outcome = await senders[w.kind](w, hands).catch(whyThrown);
    if (!isLater(outcome)) {
      settled(w);
      between = 0;
      round.soon ||= outcome === "soon";
      round.sent ||= outcome === "sent";
      continue;
    }
    stayed(w, outcome);
    round.stays = outcome;
    between = outcome === "between" ? between + 1 : 0;
    // Everything else would fail alike.
    if (outcome === "line" || outcome === "session" || between > 1) break;
  }
  return round;
}

/**
 * Milliseconds until the next of somebody's that stayed is due; undefined where nothing is. What waits for
 * another comes after it, and has no time of its own.
 */
export function nextTry(who: string): number | undefined {
  const all = waitsNow();
  const due = all
    .filter((w) => w.who === who && !w.refused && !neededBy(w, all))
    .map((w) => triesOf(w)?.next)
    .filter((next) => next !== undefined);
  return due.length ? Math.max(0, Math.min(...due) - ticks()) : undefined;
}
