// Solves the same pads with EPANET (US EPA, public domain) and stores its flows
// and heads beside this script:
//   cd web && NODE_PATH=node_modules node ../core/pad/testdata/epanet.mjs
// The networks come from `go test ./core/pad -run EPANET -write-networks`,
// which writes networks.json here.
import { readFileSync, writeFileSync } from "node:fs";
import { createRequire } from "node:module";
import { dirname, join } from "node:path";
import { fileURLToPath } from "node:url";

const here = dirname(fileURLToPath(import.meta.url));
const require = createRequire(join(process.cwd(), "package.json"));
const { Project, Workspace } = require("epanet-js");

const cases = JSON.parse(readFileSync(join(here, "networks.json"), "utf8"));
const ws = new Workspace();
if (ws.loadModule) await ws.loadModule();
const load = (c) => {
  ws.writeFile("net.inp", c.inp);
  const p = new Project(ws);
  p.open("net.inp", "net.rpt", "net.bin");
  return p;
};

if (process.argv.includes("--time")) {
  // Warmed up, then the mean of many solves from a cold start of flows.
  let spent = 0;
  let solves = 0;
  for (const c of cases) {
    const p = load(c);
    p.openH();
    const solve = () => {
      p.initH(10); // EN_INITFLOW: forget the last flows
      p.runH();
    };
    for (let i = 0; i < 50; i++) solve();
    const from = process.hrtime.bigint();
    for (let i = 0; i < 200; i++) solve();
    spent += Number(process.hrtime.bigint() - from) / 1000;
    solves += 200;
    p.closeH();
    p.close();
  }
  console.log(JSON.stringify({ networks: cases.length, micros: spent / solves }));
  process.exit(0);
}

const out = {};
for (const c of cases) {
  const p = load(c);
  try {
    p.solveH();
  } catch (e) {
    throw new Error(`${c.name}: ${String(e).slice(0, 200)}`);
  }
  const flows = {};
  for (const id of c.links) flows[id] = p.getLinkValue(p.getLinkIndex(id), 8); // EN_FLOW
  const heads = {};
  for (const id of c.nodes) heads[id] = p.getNodeValue(p.getNodeIndex(id), 10); // EN_HEAD
  p.close();
  out[c.name] = { flows, heads };
}
writeFileSync(join(here, "epanet.json"), `${JSON.stringify(out, null, 1)}\n`);
