import { type ReservedHours, reservedHours, type Uplink, uplinkBody, uplinkKind } from "@ukaza/contract/venue";
import { z } from "zod";

/** A number as a person types it; an empty field is none. */
const number = z
  .string()
  .trim()
  .refine((text) => text === "" || (Number.isFinite(asNumber(text)) && asNumber(text) >= 0), "Give a number, 0 or more.");
const asNumber = (text: string) => Number(text.replace(",", "."));
const orNull = (text: string) => (text.trim() === "" ? null : asNumber(text));

/** "19:00-23:00 4 the bar's guests; …" as reserved hours; null where it cannot be read. */
export function readReserved(text: string): ReservedHours[] | null {
  const entries = text
    .split(";")
    .map((part) => part.trim())
    .filter(Boolean);
  const read = entries.map((entry) => {
    const match = /^(\d{1,2}:\d{2})\s*(?:-|–|to)\s*(\d{1,2}:\d{2})\s+(\d+(?:[.,]\d+)?)(?:\s*Mb\/s)?\s*(.*)$/i.exec(entry);
    if (!match) return null;
    const two = (clock = "") => clock.padStart(5, "0");
    const parsed = reservedHours.safeParse({
      from: two(match[1]),
      until: two(match[2]),
      rateBps: Math.round(asNumber(match[3] ?? "") * 1e6),
      note: match[4] ?? "",
    });
    return parsed.success ? parsed.data : null;
  });
  return read.includes(null) ? null : read.flatMap((entry) => entry ?? []);
}

export const writeReserved = (reserved: readonly ReservedHours[]): string =>
  reserved.map((r) => `${r.from}-${r.until} ${r.rateBps / 1e6} ${r.note}`.trim()).join("; ");

/** The form in the person's own units; the whole is held to the contract's schema at the end. */
export const typedUplink = z
  .object({
    name: z.string().trim().min(1, "Give it a name."),
    kind: uplinkKind,
    members: z.array(z.string()),
    note: z.string().max(500),
    isMetered: z.enum(["yes", "no"]),
    allowanceGb: number,
    usedGb: number,
    pricePerGb: number,
    reserved: z
      .string()
      .refine((text) => readReserved(text) !== null, "Write it as 19:00-23:00 4 the bar's guests, with semicolons between."),
    reflector: z.string().trim(),
    localAddress: z.string().trim(),
  })
  .superRefine((typed, context) => {
    const parsed = uplinkBody.safeParse(fromTyped(typed));
    if (parsed.success) return;
    for (const issue of parsed.error.issues) {
      const [place] = issue.path;
      if (place === "members" || place === "reflector" || place === "localAddress")
        context.addIssue({
          code: "custom",
          path: [place],
          message: place === "localAddress" ? "Write an address as 192.168.8.2." : issue.message,
        });
    }
  });

export type TypedUplink = z.infer<typeof typedUplink>;

const text = (value: number | null | undefined) => (value === null || value === undefined ? "" : String(value));

export function toTyped(u: Uplink | undefined): TypedUplink {
  return {
    name: u?.name ?? "",
    kind: u?.kind ?? "wired",
    members: u?.members ?? [],
    note: u?.note ?? "",
    isMetered: u?.metered ? "yes" : "no",
    allowanceGb: text(u?.metered?.allowanceGb),
    usedGb: u?.metered ? String(Number(u.metered.usedGb.toFixed(3))) : "",
    pricePerGb: text(u?.metered?.pricePerGb),
    reserved: writeReserved(u?.reserved ?? []),
    reflector: u?.reflector ?? "",
    localAddress: u?.localAddress ?? "",
  };
}

export function fromTyped(t: TypedUplink): unknown {
  return {
    name: t.name,
    kind: t.kind,
    note: t.note.trim(),
    members: t.kind === "bonded" ? t.members : [],
    metered:
      t.isMetered === "yes"
        ? { allowanceGb: orNull(t.allowanceGb), usedGb: orNull(t.usedGb) ?? 0, pricePerGb: orNull(t.pricePerGb) }
        : null,
    reserved: readReserved(t.reserved) ?? [],
    reflector: t.reflector.trim() || null,
    localAddress: t.localAddress.trim() || null,
  };
}
