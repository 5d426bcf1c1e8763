import sheet from "virtual:kit-styles-rest";

let asked: Promise<void> | undefined;

/**
 * The kit's styles that no page begins with (build/kit-styles.ts). They stand before ours, which
 * go over them; asked for once, and again after a failure.
 */
export function restOfStyles(): Promise<void> {
  asked ??= new Promise<void>((came, failed) => {
    if (!sheet) return came();
    const link = document.createElement("link");
    link.rel = "stylesheet";
    link.href = sheet;
    link.onload = () => came();
    link.onerror = () => {
      link.remove();
      asked = undefined;
      failed(new Error("the kit's styles did not come"));
    };
    document.head.prepend(link);
  });
  return asked;
}
