type Cell = string | number | null | undefined;

/** One cell as RFC 4180 has it; text that a spreadsheet would run as a formula is kept text. */
function cell(value: Cell): string {
  if (value == null) return "";
  let text = String(value);
  if (typeof value === "string" && /^[=+\-@\t\r]/.test(text)) text = `'${text}`;
  return /[",\r\n]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text;
}

/** Rows as a file that a spreadsheet opens; its first row is the heads. */
export const csvOf = (rows: Cell[][]): string => `\uFEFF${rows.map((r) => r.map(cell).join(",")).join("\r\n")}\r\n`;

/** Hands a file to the browser. */
export function saveFile(name: string, data: BlobPart, type: string): void {
  const url = URL.createObjectURL(new Blob([data], { type }));
  const a = document.createElement("a");
  a.href = url;
  a.download = name;
  a.click();
  setTimeout(() => URL.revokeObjectURL(url), 10_000);
}

export const saveCsv = (name: string, rows: Cell[][]): void => saveFile(`${name}.csv`, csvOf(rows), "text/csv");
