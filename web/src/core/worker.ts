/// <reference lib="webworker" />

/** What Go's own support for a browser gives. */
declare const Go: new () => { importObject: WebAssembly.Imports; run: (instance: WebAssembly.Instance) => void };
declare const fairlapAnswer: (question: string) => { answer?: string; refusal?: string; error?: string };

const support = "/wasm_exec.js";

const ready = (async () => {
  await import(/* @vite-ignore */ support);
  const go = new Go();
  const { instance } = await WebAssembly.instantiateStreaming(fetch("/core.wasm"), go.importObject);
  go.run(instance);
})();

/** Answers each question in turn; the core is loaded with the first. */
addEventListener("message", async ({ data: { n, question } }: MessageEvent<{ n: number; question: string }>) => {
  try {
    await ready;
    postMessage({ n, ...fairlapAnswer(question) });
  } catch (error) {
    postMessage({ n, error: String(error) });
  }
});
