import "fake-indexeddb/auto";
import { beforeEach, describe, expect, it, vi } from "vitest";

const me = "00000000-0000-7000-8000-000000000001";

/** A page opened anew on the same device. */
async function page() {
  vi.resetModules();
  const store = await import("./store");
  await store.opened;
  return store;
}

const text = new Map<string, string>();
const device = new Proxy(
  { getItem: (k: string) => text.get(k) ?? null, removeItem: (k: string) => text.delete(k) },
  { ownKeys: () => [...text.keys()], getOwnPropertyDescriptor: () => ({ enumerable: true, configurable: true }) },
);

beforeEach(() => {
  text.clear();
  vi.stubGlobal("localStorage", device);
});

describe("what a device keeps", () => {
  it("is there when the page is opened anew, pictures too, until it is let go", async () => {
    const { keep, forget } = await page();
    keep(me, "note", "p1", { text: "gate left open" });
    keep(me, "photo", "f1", { picture: new Blob(["…"]) });
    keep(me, "note", "p2", { text: "gone" });
    forget(me, "note", "p2");
    await vi.waitFor(async () => {
      const again = await page();
      expect(again.keptOf(me, "note", "p1")).toEqual({ text: "gate left open" });
      expect(again.keptOf<{ picture: Blob }>(me, "photo", "f1")?.picture).toBeDefined();
      expect(again.keptOf(me, "note", "p2")).toBeUndefined();
    });
  });

  it("of an earlier page, which kept it as text, is taken over under its maker's name", async () => {
    text.set(`fairlap.draft.${me}.s1`, '{"note":"by me"}');
    text.set("fairlap.walk.p1", '{"note":"by nobody known"}');
    text.set("fairlap.run-read.00000000-0000-7000-8000-000000000009.top", '{"tank":"12"}');
    text.set("fairlap.lang", "es");
    text.set(`fairlap.run.${me}.r1`, "not readable");
    const { keptOf, adopt } = await page();
    expect(keptOf(me, "visit", "s1")).toEqual({ note: "by me" });
    adopt(me);
    expect(keptOf(me, "walk", "p1")).toEqual({ note: "by nobody known" });
    expect(keptOf(me, "run-read", "00000000-0000-7000-8000-000000000009.top")).toEqual({ tank: "12" });
    await vi.waitFor(() => expect([...text.keys()]).toEqual(["fairlap.lang"]));
  });

  it("of an earlier page stays as text as long as the store does not have it", async () => {
    text.set(`fairlap.draft.${me}.s7`, '{"note":"not to be lost"}');
    const full = vi.spyOn(IDBObjectStore.prototype, "put").mockImplementation(() => {
      throw new DOMException("full", "QuotaExceededError");
    });
    const { keptOf, isKeeping } = await page();
    await vi.waitFor(() => expect(isKeeping()).toBe(false));
    expect(keptOf(me, "visit", "s7")).toEqual({ note: "not to be lost" });
    expect([...text.keys()]).toEqual([`fairlap.draft.${me}.s7`]);
    full.mockRestore();
    await page();
    await vi.waitFor(() => expect(text.size).toBe(0));
  });

  it("is said not to be kept where there is no room, and kept again once there is", async () => {
    const { keep, isKeeping, onKept } = await page();
    const told = vi.fn();
    onKept(told);
    const full = vi.spyOn(IDBObjectStore.prototype, "put").mockImplementation(() => {
      throw new DOMException("full", "QuotaExceededError");
    });
    keep(me, "note", "p3", { text: "lost?" });
    await vi.waitFor(() => expect(isKeeping()).toBe(false));
    full.mockRestore();
    keep(me, "note", "p3", { text: "kept" });
    await vi.waitFor(() => expect(isKeeping()).toBe(true));
    expect(told).toHaveBeenCalled();
  });

  it("is the same in every tab at once", async () => {
    const one = await page();
    const two = await page();
    const gone = vi.fn();
    two.onGoneElsewhere(gone);
    one.keep(me, "note", "p4", { text: "typed in one" });
    await vi.waitFor(() => expect(two.keptOf(me, "note", "p4")).toEqual({ text: "typed in one" }));
    one.forget(me, "note", "p4");
    await vi.waitFor(() => expect(two.keptOf(me, "note", "p4")).toBeUndefined());
    expect(gone).toHaveBeenCalled();
  });
});
