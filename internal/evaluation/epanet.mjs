// Solves networks with EPANET (US EPA, public domain): one JSON string with an
// input file a line on stdin, one JSON object of heads and flows a line on stdout.
import { createRequire } from "node:module";
import { join } from "node:path";
import { createInterface } from "node:readline";

const require = createRequire(join(process.cwd(), "package.json"));
const { Project, Workspace } = require("epanet-js");
// Warnings (a pad shut on both sides does not balance) would drown the report.
console.warn = console.error = console.log = () => {};
const ws = new Workspace();
if (ws.loadModule) await ws.loadModule();

for await (const line of createInterface({ input: process.stdin })) {
  const answer = { head: {}, flow: {} };
  try {
    ws.writeFile("net.inp", JSON.parse(line));
    const p = new Project(ws);
    p.open("net.inp", "net.rpt", "net.bin");
    p.solveH();
    for (const id of ["eye", "tank"]) answer.head[id] = p.getNodeValue(p.getNodeIndex(id), 10); // EN_HEAD
    answer.flow.pump = p.getLinkValue(p.getLinkIndex("pump"), 8); // EN_FLOW
    p.close();
  } catch (e) {
    answer.error = String(e).slice(0, 200);
  }
  process.stdout.write(`${JSON.stringify(answer)}\n`);
}
