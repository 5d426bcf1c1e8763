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
const out = {};
for (const c of cases) {
  ws.writeFile("net.inp", c.inp);
  const p = new Project(ws);
  p.open("net.inp", "net.rpt", "net.bin");
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
