/// <reference lib="webworker" />

/** What Go's own support for a browser gives. */
declare const Go: new () => { importObject: WebAssembly.Imports; run: (instance: WebAssembly.Instance) => void };
declare const fairlapAnswer: (question: string) => {
  answer?: string;
  refusal?: string;
  error?: string;
  broken?: boolean;
};
declare const fairlapWords: (lang: string, texts: string) => string;

const support = "/wasm_exec.js";

const ready = (async () => {
  await import(/* @vite-ignore */ support);
  const go = new Go();
  const { instance } = await WebAssembly.instantiateStreaming(fetch("/core.wasm"), go.importObject);
  go.run(instance);
})();

/** The core's words, a language a file: a reader has one. */
const texts: Record<string, () => Promise<{ default: string }>> = {
  en: () => import("virtual:core-words-en"),
  es: () => import("virtual:core-words-es"),
};

const told = new Map<string, Promise<void>>();

/** Tells the core a language's words, once. */
function tell(lang: string): Promise<void> {
  const of = texts[lang] ? lang : "en";
  const before = told.get(of);
  if (before) return before;
  const now = texts[of]().then((words) => {
    const wrong = fairlapWords(of, words.default);
    if (wrong) throw new Error(wrong);
  });
  now.catch(() => told.delete(of)); // the next question tries again
  told.set(of, now);
  return now;
}

/** Answers each question in turn; the core is loaded with the first. */
addEventListener(
  "message",
  async ({ data: { n, lang, question } }: MessageEvent<{ n: number; lang: string; question: string }>) => {
    try {
      await ready;
      await tell(lang);
      postMessage({ n, ...fairlapAnswer(question) });
    } catch (error) {
      // It did not load, or Go has gone: nothing more comes from this worker.
      postMessage({ n, error: String(error), broken: true });
    }
  },
);
