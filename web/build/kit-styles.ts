import { existsSync, readdirSync, readFileSync } from "node:fs";
import { dirname, join, resolve } from "node:path";
import { fileURLToPath } from "node:url";
import { createCache, extractStyle, StyleProvider } from "@ant-design/cssinjs";
import { extractStyle as drawAll } from "@ant-design/static-style-extract";
import { ConfigProvider } from "antd";
import postcss, { type Container, type Rule } from "postcss";
import { createElement } from "react";
import type { Plugin } from "vite";
import { kit, kitFolders, named } from "./kit-imports.ts";
import { antdTheme, kitClass } from "../src/theme/antd.ts";

const src = fileURLToPath(new URL("../src", import.meta.url));
/** What comes with parts that we use and is on none of our pages. */
const unused = new Set(["Badge-Ribbon", "Input-OTP", "Menu-Menu", "Tree-Tree"]);

/** What the lap and a stop begin with; the rest is in a second sheet, which holds no page up. */
const first = new Set(["Badge", "Button", "Collapse", "Input", "Progress", "Segmented", "Skeleton", "Space", "Wave"]);

const everywhere = new Set(["Shared", "ant-design-icons"]);

/** The sheet that a page begins with, and a module that asks for the rest. */
const firstSheet = "virtual:kit-styles.css";
const restOfSheets = "virtual:kit-styles-rest";

/**
 * The kit's styles, made here once instead of on every phone: what the kit writes at run time
 * costs a slow phone more than all else on a page. Both shades are in the one sheet; in the
 * bundle the makers of styles give back their class alone.
 */
export const kitStyles: Plugin = {
  name: "kit-styles",
  resolveId: (asked) => (asked === firstSheet || asked === restOfSheets ? `\0${asked}` : null),
  load(asked) {
    // While it is worked on, the kit writes its own.
    if (this.meta.watchMode && asked === `\0${firstSheet}`) return "";
    if (this.meta.watchMode && asked === `\0${restOfSheets}`) return "export default undefined";
    if (asked === `\0${firstSheet}`) return bothShades((name) => first.has(name));
    if (asked !== `\0${restOfSheets}`) return null;
    const sheet = this.emitFile({
      type: "asset",
      name: "kit-rest.css",
      source: bothShades((name) => !first.has(name)),
    });
    return `export default import.meta.ROLLUP_FILE_URL_${sheet}`;
  },
  transform: {
    filter: { id: /\/antd\/es\/.*\.js$/, code: /gen(StyleHooks|ComponentStyleHook|SubStyleComponent|StyleUtils)\(|useStyleRegister\(/ },
    handler(code, file) {
      if (this.meta.watchMode) return null;
      // Nobody asks the makers any more: what they are made of stays out of the bundle.
      if (file.endsWith("genStyleUtils.js")) return code.replace(/export const \{[^}]*\} = genStyleUtils\(\{[^]*?\n\}\);/, noMakers);
      let made = code;
      for (const { start, end, maker } of calls(this.parse(code))) {
        made = made.slice(0, start) + given[maker] + made.slice(end);
      }
      return made;
    },
  },
};

const noMakers = "export const genStyleHooks = 0, genComponentStyleHook = 0, genSubStyleComponent = 0;";

/** What each maker of styles gives back where the styles stand already. */
const given: Record<string, string> = {
  genStyleHooks: `(() => ["", "${kitClass}"])`,
  genComponentStyleHook: '(() => "")',
  genSubStyleComponent: "(() => null)",
  useStyleRegister: "undefined",
};

type Node = { type: string; start: number; end: number; callee?: { name?: string } };

/** The calls of makers in a module, the last first, none within another. */
function calls(tree: unknown): { start: number; end: number; maker: string }[] {
  const found: { start: number; end: number; maker: string }[] = [];
  const look = (at: unknown): void => {
    if (!at || typeof at !== "object") return;
    if (Array.isArray(at)) {
      at.forEach(look);
      return;
    }
    const node = at as Node;
    const maker = node.type === "CallExpression" ? (node.callee?.name ?? "") : "";
    if (maker in given) found.push({ start: node.start, end: node.end, maker });
    else Object.values(at).forEach(look);
  };
  look(tree);
  return found.sort((a, b) => b.start - a.start);
}

/** The sheet in light, and after it what dark has otherwise. */
function bothShades(of: (part: string) => boolean): string {
  const light = postcss.parse(sheet(of, "light"));
  const dark = postcss.parse(sheet(of, "dark"));
  const lit = rules(light);
  for (const [i, rule] of rules(dark).entries()) {
    const same = new Set(lit[i].nodes.map(String));
    const otherwise = rule.nodes.filter((d) => !same.has(String(d)));
    if (otherwise.length === 0) continue;
    if (rule.parent?.type !== "root" || rule.selector !== lit[i].selector) {
      throw new Error(`the kit's dark sheet is not its light one in other colours: ${rule.selector}`);
    }
    light.append(
      postcss.rule({
        selectors: rule.selectors.map((s) => `[data-theme="dark"] ${s}`),
        nodes: otherwise.map((d) => d.clone()),
      }),
    );
  }
  return light.toString();
}

function rules(sheet: Container): Rule[] {
  const all: Rule[] = [];
  sheet.walkRules((rule) => {
    all.push(rule);
  });
  return all;
}

function sheet(of: (part: string) => boolean, shade: "light" | "dark"): string {
  const theme = antdTheme(tokens(shade));
  const all = createCache();
  // The package knows how to draw each part; what they leave is caught in a cache of our own.
  drawAll({
    includes: partsInUse(),
    customTheme: (drawn) =>
      createElement(StyleProvider, { cache: all }, createElement(ConfigProvider, { theme }, drawn)),
  });
  const wanted = createCache();
  for (const [key, made] of all.cache) {
    const [kind, name, scope] = key.split("%").filter(Boolean);
    const ours = { style: true, cssVar: scope === kitClass, token: made[1][4] === kitClass }[kind];
    // What all parts share stands with the first: the variables, links and icons.
    const part = kind === "token" || everywhere.has(name) ? "Button" : name.split("-")[0];
    if (ours && !unused.has(name) && of(part)) wanted.cache.set(key, made);
  }
  return extractStyle(wanted, true).replace(/\.data-ant-cssinjs-cache-path\{[^}]*\}/, "");
}

/** Reads our tokens as a page in the shade would. */
function tokens(shade: "light" | "dark"): (name: string) => string {
  const known = new Map<string, string>();
  postcss.parse(readFileSync(join(src, "theme/tokens.css"), "utf8")).walkRules((rule) => {
    if (rule.selector.includes("data-theme") && !rule.selector.includes(shade)) return;
    rule.walkDecls((d) => {
      known.set(d.prop, d.value);
    });
  });
  return (name) => {
    const value = known.get(name);
    if (value === undefined) throw new Error(`no token ${name}`);
    return value;
  };
}

/** The kit's parts that our views import, and those that these are made of. */
function partsInUse(): string[] {
  const seen = new Set<string>();
  const follow = (file: string): void => {
    if (seen.has(file)) return;
    seen.add(file);
    for (const [, to] of readFileSync(file, "utf8").matchAll(/from ['"](\.[^'"]+)['"]/g)) {
      follow(moduleAt(resolve(dirname(file), to)));
    }
  };
  for (const name of imported()) {
    const folder = kitFolders.get(name);
    if (folder) follow(moduleAt(join(kit, folder)));
  }
  return [...kitFolders].filter(([, folder]) => seen.has(join(kit, folder, "index.js"))).map(([name]) => name);
}

const moduleAt = (path: string): string =>
  [path, `${path}.js`, join(path, "index.js")].find((file) => file.endsWith(".js") && existsSync(file)) ?? "";

/** The names that our own modules take from the kit. */
function imported(): string[] {
  const names = new Set<string>();
  for (const file of readdirSync(src, { recursive: true, encoding: "utf8" })) {
    if (!/\.tsx?$/.test(file)) continue;
    for (const { name } of named(readFileSync(join(src, file), "utf8"))) names.add(name);
  }
  return [...names];
}
