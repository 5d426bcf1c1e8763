/** Reading and writing a field of a document by its path, like suction[0].lengthFt. */

const steps = (path: string) => path.match(/[^.[\]]+/g) ?? [];

export function at(doc: unknown, path: string): unknown {
  return steps(path).reduce<unknown>((v, s) => (v as Record<string, unknown> | undefined)?.[s], doc);
}

/** A copy of the document with one field changed; what did not change is shared. */
export function put<T>(doc: T, path: string, value: unknown): T {
  const go = (v: unknown, [step, ...rest]: string[]): unknown => {
    if (step === undefined) return value;
    const copy: Record<string, unknown> | unknown[] = Array.isArray(v) ? [...v] : { ...(v as object) };
    (copy as Record<string, unknown>)[step] = go((v as Record<string, unknown> | undefined)?.[step], rest);
    return copy;
  };
  return go(doc, steps(path)) as T;
}
