// Solves the same pads with EPANET (US EPA, public domain) and stores its flows
// and heads beside this script:
//   cd web && NODE_PATH=node_modules node ../core/plumbing/testdata/epanet.mjs
// The networks come from `go test ./core/plumbing -run EPANET -write-networks`,
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
  // Of each network the mean of many solves, and its trials: cold (flows forgotten) and warm (from the last flows).
  const rounds = 300;
  const mostTrials = 200; // one more: it gave up
  console.warn = () => {}; // it says at each solve what is said here once
  const timed = [];
  for (const c of cases) {
    const p = load(c);
    p.openH();
    const run = (flag) => {
      p.initH(flag);
      p.runH();
    };
    const row = { name: c.name, settles: true };
    for (const [way, flag] of [["cold", 10], ["warm", 0]]) {
      run(10);
      for (let i = 0; i < 50; i++) run(flag);
      const from = process.hrtime.bigint();
      for (let i = 0; i < rounds; i++) run(flag);
      row[way] = Number(process.hrtime.bigint() - from) / 1000 / rounds;
      row[`${way}Trials`] = p.getStatistic(0); // EN_ITERATIONS
      row.settles &&= row[`${way}Trials`] <= mostTrials;
    }
    timed.push(row);
    p.closeH();
    p.close();
  }
  console.log(JSON.stringify(timed));
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
