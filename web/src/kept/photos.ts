import { useMemo, useSyncExternalStore } from "react";
import { v7 as uuid } from "uuid";
import { useMe } from "../frame/me";
import { now } from "../parts/clock";
import { allKept, forget, keep, onKept } from "./store";
import type { KeptPhoto } from "./waiting";

/** The longest side that a picture is kept and sent with. */
const longest = 1600;

/** A picture made small on this device; as it is, where the device can't read it. */
async function shrunk(file: File): Promise<Blob> {
  try {
    const picture = await createImageBitmap(file, { imageOrientation: "from-image" });
    const share = Math.min(1, longest / Math.max(picture.width, picture.height));
    const canvas = document.createElement("canvas");
    canvas.width = Math.round(picture.width * share);
    canvas.height = Math.round(picture.height * share);
    canvas.getContext("2d")?.drawImage(picture, 0, 0, canvas.width, canvas.height);
    const small = await new Promise<Blob | null>((done) => canvas.toBlob(done, "image/jpeg", 0.82));
    return small ?? file;
  } catch {
    return file; // the server says in words what is wrong with it
  }
}

/** What a picture belongs to beside its pool. */
export type PhotoOf = { visit: string } | { inspection: string; item?: string };

interface PhotoWaits extends KeptPhoto {
  who: string;
  id: string;
}

let told: PhotoWaits[] = [];

/** Everybody's pictures that wait; the same list as long as nothing in it is another. */
function waitingNow(): PhotoWaits[] {
  const all = allKept().filter((e) => e.kind === "photo");
  if (all.length !== told.length || all.some((e, i) => e.value !== waited.get(told[i].id))) {
    waited = new Map(all.map((e) => [e.id, e.value]));
    told = all.map((e) => ({ ...(e.value as KeptPhoto), who: e.who, id: e.id }));
  }
  return told;
}
let waited = new Map<string, object>();

/** One's own pictures of a pool, or of one thing of it: taking one keeps it here until the server has it. */
export function useWaitingPhotos(pool: string, of?: PhotoOf) {
  const { id: who } = useMe();
  const all = useSyncExternalStore(onKept, waitingNow);
  const about = JSON.stringify(of ?? {});
  const waiting = useMemo(
    () =>
      all.filter(
        (p) =>
          p.who === who &&
          p.pool === pool &&
          Object.entries(JSON.parse(about) as object).every(([k, v]) => p.ask[k] === v),
      ),
    [all, who, pool, about],
  );
  return {
    waiting,
    take: async (file: File, caption: string) => {
      const ask: Record<string, string> = { caption, ...of };
      if (file.lastModified) ask.takenAt = new Date(file.lastModified).toISOString();
      keep(who, "photo", uuid(), {
        pool,
        ask,
        picture: await shrunk(file),
        at: now().toISOString(),
      } satisfies KeptPhoto);
    },
    discard: (id: string) => forget(who, "photo", id),
  };
}
