import { z } from "zod";

/** A problem document (RFC 9457) with what to do about it in `mend`. */
export const problem = z.strictObject({
  type: z.string(),
  title: z.string(),
  status: z.number().int(),
  detail: z.string(),
  mend: z.string(),
  faults: z.array(z.strictObject({ at: z.string(), message: z.string() })).optional(),
});

export type Problem = z.infer<typeof problem>;

/** Every fault of a failed parse as "where: what", in the words of the schema. */
export function faultsOf(error: z.ZodError): { at: string; message: string }[] {
  return error.issues.map((issue) => ({ at: issue.path.map(String).join(".") || "(whole)", message: issue.message }));
}

/** An error that is answered with a problem document. `detail` says what is wrong, `mend` what to do. */
export class Refusal extends Error {
  readonly problem: Problem;

  constructor(status: number, kind: string, detail: string, mend: string, faults?: Problem["faults"]) {
    super(detail);
    this.problem = {
      type: `urn:ukaza:problem:${kind}`,
      title: kind.replaceAll("-", " "),
      status,
      detail,
      mend,
      ...(faults ? { faults } : {}),
    };
  }
}

/** Reads a value by a schema, or throws the Refusal that names every fault. */
export function readAs<T>(schema: z.ZodType<T>, value: unknown, what: string): T {
  const parsed = schema.safeParse(value);
  if (parsed.success) return parsed.data;
  const faults = faultsOf(parsed.error);
  const [first] = faults;
  throw new Refusal(422, "not-valid", `${what}: ${first?.at}: ${first?.message}`, "Mend the places named and send it again.", faults);
}
