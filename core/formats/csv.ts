import Papa from "papaparse";

/** Rows as CSV (RFC 4180). A value that a spreadsheet would run as a formula is led by an apostrophe. */
export function writeCsv(fields: readonly string[], rows: readonly (readonly (string | number | null)[])[]): string {
  return `${Papa.unparse({ fields: [...fields], data: rows.map((row) => [...row]) }, { escapeFormulae: true })}\r\n`;
}
