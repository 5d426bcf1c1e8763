// Asks the core as the browser's worker does: one question a line in, one answer a line out; at
// the end the milliseconds of the first answer, of the usual one and of the slowest after the first.
import { readFileSync } from "node:fs";
import { createInterface } from "node:readline";

const [support, core, words] = process.argv.slice(2);
await import(support);
const go = new globalThis.Go();
const { instance } = await WebAssembly.instantiate(readFileSync(core), go.importObject);
go.run(instance);
for (const [lang, texts] of Object.entries(JSON.parse(readFileSync(words, "utf8")))) globalThis.fairlapWords(lang, texts);
const took = [];
for await (const question of createInterface({ input: process.stdin })) {
  const begun = performance.now();
  const said = globalThis.fairlapAnswer(question);
  took.push(performance.now() - begun);
  console.log(JSON.stringify(said));
}
const [first, ...rest] = took;
rest.sort((a, b) => a - b);
const times = [first, rest[rest.length >> 1], rest.at(-1)].map(Math.round).join(", ");
process.stdout.write(`${times}\n`, () => process.exit(0)); // not before all of it is out
