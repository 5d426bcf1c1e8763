import { readFileSync } from "node:fs";
import { fileURLToPath } from "node:url";
import type { Plugin } from "vite";

/** Where the kit's modules are. */
export const kit = fileURLToPath(new URL("../node_modules/antd/es", import.meta.url));

/** The folder of each part, by its name. */
export const kitFolders = new Map(
  [...readFileSync(`${kit}/index.js`, "utf8").matchAll(/default as (\w+) \} from '\.\/([\w-]+)'/g)].map(
    ([, name, folder]) => [name, folder],
  ),
);

const fromKit = /import \{([^}]*)\} from "antd";/g;

/** What a module takes from the kit, and what it calls it. */
export function named(code: string): { name: string; as: string }[] {
  return [...code.matchAll(fromKit)].flatMap(([, list]) => parts(list));
}

const parts = (list: string) =>
  list
    .split(",")
    .map((one) => one.trim().split(" as "))
    .filter(([name]) => kitFolders.has(name))
    .map(([name, as = name]) => ({ name, as }));

/** Takes each part of the kit from its own module, so that a page's imports tell what it begins with. */
export const kitImports: Plugin = {
  name: "kit-imports",
  enforce: "pre",
  transform: {
    filter: { id: /\/src\/.*\.tsx$/, code: fromKit },
    handler: (code) =>
      code.replace(fromKit, (_, list: string) =>
        parts(list)
          .map(({ name, as }) => `import ${as} from "antd/es/${kitFolders.get(name)}";`)
          .join(" "),
      ),
  },
};

/** What the kit takes from its forms on pages without one, and where that is by itself. */
const formParts: Record<string, string> = {
  FormProvider: "import { FormProvider as $ } from '@rc-component/form/es/FormContext';",
  useForm: "import $ from '@rc-component/form/es/hooks/useForm';",
};

/** Leaves the fields and checks of forms to the pages that have one: a context brings them all. */
export const formsLater: Plugin = {
  name: "forms-later",
  transform: {
    filter: { id: /\/antd\/es\/form\/(context|hooks\/useForm)\.js$/ },
    handler: (code) =>
      code.replace(/import \{ (\w+) as (\w+) \} from '@rc-component\/form';/, (all, name: string, as: string) =>
        name in formParts ? formParts[name].replace("$", as) : all,
      ),
  },
};
