import { beforeEach, describe, expect, it, vi } from "vitest";

interface Message {
  n: number;
  question: string;
}

/** Workers as they are made, one after the other, and how each takes a question. */
const made: FakeWorker[] = [];
let takes: (worker: FakeWorker, message: Message) => void;
class FakeWorker {
  onmessage?: (e: { data: object }) => void;
  onerror?: () => void;
  gone = false;
  constructor() {
    made.push(this);
  }
  postMessage(message: Message) {
    queueMicrotask(() => takes(this, message));
  }
  terminate() {
    this.gone = true;
  }
  say(data: object) {
    if (!this.gone) this.onmessage?.({ data });
  }
}
vi.stubGlobal("Worker", FakeWorker);
const { casesHere, NoCore } = await import("./here");
const reader = { lang: "en", units: "us" };
const answered = (w: FakeWorker, m: Message) => w.say({ n: m.n, answer: '["a case"]' });

beforeEach(() => {
  takes = answered;
});

describe("the core's client", () => {
  it("asks another worker where one broke, and the question is answered", async () => {
    takes = (w, m) => (made.length === 1 ? w.say({ n: m.n, error: "it panicked", broken: true }) : answered(w, m));
    made.length = 0;
    expect(await casesHere(reader)).toEqual(["a case"]);
    expect(made.map((w) => w.gone)).toEqual([true, false]);
    expect(await casesHere(reader)).toEqual(["a case"]);
    expect(made).toHaveLength(2);
  });

  it("fails a question that breaks two workers, and answers what was open beside it and comes after", async () => {
    let first: number | undefined;
    takes = (w, m) => {
      first ??= m.n;
      if (m.n === first) w.say({ n: m.n, error: "it panicked", broken: true });
      else answered(w, m);
    };
    const bad = casesHere(reader);
    const good = casesHere(reader);
    await expect(bad).rejects.toBeInstanceOf(NoCore);
    expect(await good).toEqual(["a case"]);
    expect(await casesHere(reader)).toEqual(["a case"]);
  });

  it("tries once more where the worker does not load at all, and then says so", async () => {
    takes = (w) => w.onerror?.();
    await expect(casesHere(reader)).rejects.toBeInstanceOf(NoCore);
    takes = answered;
    expect(await casesHere(reader)).toEqual(["a case"]);
  });

  it("passes a refusal on", async () => {
    takes = (w, m) => w.say({ n: m.n, refusal: '{"status":422}' });
    await expect(casesHere(reader)).rejects.toEqual({ status: 422 });
  });
});
