/** How a file writes the decimal mark; the other mark groups thousands. */
export type NumberStyle = "point" | "comma";

const spaces = /[\s\u00A0\u202F'’]/g;

/** What one number tells of the style: sure, open ("1,234" may be either), or nothing. */
export function styleOf(text: string): NumberStyle | "open" | null {
  const bare = text.replace(spaces, "");
  const [comma, point] = [bare.lastIndexOf(","), bare.lastIndexOf(".")];
  if (comma < 0 && point < 0) return null;
  if (comma >= 0 && point >= 0) return comma > point ? "comma" : "point";
  const mark = comma >= 0 ? "," : ".";
  const parts = bare.split(mark);
  if (parts.length > 2) return mark === "," ? "point" : "comma";
  // A lone point is a decimal point everywhere but before exactly three digits in a file of commas.
  const grouped = /^\d{1,3}$/.test(parts[0] ?? "") && parts[0] !== "0" && /^\d{3}$/.test(parts[1] ?? "");
  if (grouped) return "open";
  return mark === "," ? "comma" : "point";
}

/** A number written in a style; NaN for what is none. */
export function readNumber(text: string, style: NumberStyle): number {
  const bare = text.replace(spaces, "");
  const [decimal, group] = style === "comma" ? [",", "."] : [".", ","];
  const grouped = bare.includes(group);
  const whole = (bare.split(decimal)[0] ?? "").replace(/^[+-]/, "");
  if (grouped && (!/^\d{1,3}([.,]\d{3})+$/.test(whole) || (bare.split(decimal)[1] ?? "").includes(group))) return Number.NaN;
  const plain = bare.replaceAll(group, "").replace(decimal, ".");
  return /^[+-]?(\d+(\.\d*)?|\.\d+)(e[+-]?\d{1,3})?$/i.test(plain) ? Number(plain) : Number.NaN;
}
