/** Reading and writing a field of a document by its path, like suction[0].lengthFt. The
 *  compiler knows the paths: one that leads nowhere does not build. */

type Leaf = string | number | boolean;
type Dot<P extends string> = P extends `[${string}` ? P : `.${P}`;

/** The paths of a document that lead to a value of a kind. */
export type PathTo<T, V> =
  NonNullable<T> extends infer O
    ? O extends Leaf
      ? never
      : O extends readonly (infer U)[]
        ? `[${number}]${Dot<PathTo<U, V>>}` | (U extends V ? `[${number}]` : never)
        : {
            [K in keyof O & string]: (NonNullable<O[K]> extends V ? K : never) | `${K}${Dot<PathTo<O[K], V>>}`;
          }[keyof O & string]
    : never;

/** All paths of a document. */
export type PathIn<T> = PathTo<T, unknown>;

const steps = (path: string) => path.match(/[^.[\]]+/g) ?? [];

export function at<T>(doc: T, path: PathIn<T>): unknown {
  return steps(path).reduce<unknown>((v, s) => (v as Record<string, unknown> | undefined)?.[s], doc);
}

/** A copy of the document with one field changed; what did not change is shared. */
export function put<T>(doc: T, path: PathIn<T>, value: unknown): T {
  const go = (v: unknown, [step, ...rest]: string[]): unknown => {
    if (step === undefined) return value;
    const copy: Record<string, unknown> | unknown[] = Array.isArray(v) ? [...v] : { ...(v as object) };
    (copy as Record<string, unknown>)[step] = go((v as Record<string, unknown> | undefined)?.[step], rest);
    return copy;
  };
  return go(doc, steps(path)) as T;
}
