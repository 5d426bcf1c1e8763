/** The contract with the server that this page was built for. */
declare const __CONTRACT__: string;

declare module "virtual:kit-styles.css";
declare module "virtual:kit-styles-rest" {
  /** Where the sheet is; nothing while the kit writes its own. */
  const address: string | undefined;
  export default address;
}

declare module "virtual:core-words-*" {
  const texts: string;
  export default texts;
}
