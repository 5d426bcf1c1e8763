import { v7 as uuid } from "uuid";
import type { Problem } from "../api/client";

/** The longest side that a picture is sent with. */
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

/** Sends a picture to a pool; the same id again is the same picture. Throws the server's problem. */
export async function sendPhoto(pool: string, file: File, caption: string, of?: PhotoOf): Promise<void> {
  const ask = new URLSearchParams({ photo: uuid(), caption, ...of });
  if (file.lastModified) ask.set("takenAt", new Date(file.lastModified).toISOString());
  const answer = await fetch(`/api/v1/pools/${pool}/photos?${ask}`, {
    method: "POST",
    headers: { "Content-Type": "application/octet-stream" },
    body: await shrunk(file),
  });
  if (!answer.ok) throw (await answer.json()) as Problem;
}
