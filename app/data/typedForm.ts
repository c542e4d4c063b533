import type { FieldErrors, FieldValues, Resolver } from "react-hook-form";
import { set } from "react-hook-form";
import type { z } from "zod";

/** A fault of a document, said for the person who types. */
export interface TypedFault {
  path: readonly PropertyKey[];
  message: string;
}

/** The words of a schema's issue for a field: what the schema says itself, or the range in plain words. */
export function issueText(issue: z.core.$ZodIssue, shown: (value: number) => string = String): string {
  if (issue.code === "invalid_type" && (issue.expected === "number" || issue.expected === "int")) return "Give a number.";
  if (issue.code === "too_small" && issue.origin === "array") return "Choose at least one.";
  if (issue.code === "too_small" && issue.origin === "string") return "This is needed.";
  if (issue.code === "too_small") return `At least ${shown(Number(issue.minimum))}.`;
  if (issue.code === "too_big" && issue.origin === "string") return `At most ${issue.maximum} signs.`;
  if (issue.code === "too_big" && issue.origin === "array") return `At most ${issue.maximum} of them.`;
  if (issue.code === "too_big") return `At most ${shown(Number(issue.maximum))}.`;
  return issue.message;
}

const isBranch = (value: unknown): value is Record<string, unknown> => typeof value === "object" && value !== null && !isTicked(value);
/** Boxes that were ticked are one field, whatever stands in them. */
const isTicked = (value: unknown) => Array.isArray(value) && value.every((v) => typeof v === "string");

/** The field of a form that a fault of its document belongs to: as far along its path as the form goes. */
export function fieldFor(typed: unknown, path: readonly PropertyKey[]): string {
  const found: string[] = [];
  let here = typed;
  for (const part of path) {
    const name = String(part);
    if (!isBranch(here) || !(name in here)) break;
    found.push(name);
    here = here[name];
  }
  return found.join(".");
}

/** Holds what is typed to the document's schema; each fault stands at its field. */
export function typedResolver<T extends FieldValues>(faultsIn: (typed: T) => TypedFault[]): Resolver<T> {
  return (typed) => {
    const errors: FieldErrors<T> = {};
    const faults = faultsIn(typed);
    // The first fault of a field is said; the last written would be.
    for (const { path, message } of [...faults].reverse()) set(errors, fieldFor(typed, path) || "root", { type: "typed", message });
    return faults.length > 0 ? { values: {}, errors } : { values: typed, errors: {} };
  };
}

/** A number as a person types it, times a factor; an empty field is `empty`, what is no number is not a number. */
export function typedNumber<E>(text: string, empty: E, factor = 1): number | E {
  const bare = text.trim().replace(",", ".");
  if (bare === "") return empty;
  const value = Number(bare) * factor;
  // Kilobits with a decimal place must not become 128000.00000000001 bit/s.
  return Number.isFinite(value) ? Math.round(value * 1e6) / 1e6 : Number.NaN;
}

/** Numbers or words with commas, spaces or semicolons between them. */
export const typedList = (text: string): string[] => text.split(/[\s,;]+/).filter(Boolean);

/** How many faults stand in a part of the form. */
export function countFaults(errors: unknown): number {
  if (typeof errors !== "object" || errors === null) return 0;
  if ("message" in errors && "type" in errors) return 1;
  return Object.values(errors).reduce<number>((sum, part) => sum + countFaults(part), 0);
}
