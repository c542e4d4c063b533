import { zodResolver } from "@hookform/resolvers/zod";
import { readTime } from "@ukaza/core/formats/when";
import { useForm } from "react-hook-form";
import { z } from "zod";
import { send } from "../../data/api";
import { useOrder } from "../../data/hooks";
import { Button } from "../../ui/Button";
import { FormField } from "../../ui/FormField";
import { ProblemNote } from "../../ui/Problem";
import { dayNumberText } from "../../words/units";

const number = (most: number, message: string) =>
  z
    .string()
    .trim()
    .transform((text) => (text === "" ? undefined : Number(text.replace(",", "."))))
    .refine((n) => n === undefined || (Number.isFinite(n) && n >= 0 && n <= most), message);

/** The form in the person's own units: Mb/s, ms, %. */
const schema = (timeZone: string) =>
  z.object({
    time: z.string().refine((text) => readTime(text, timeZone) !== null, "Write it as 2026-06-10 19:30."),
    rate: number(10_000, "Give a number up to 10000.").refine((n) => n !== undefined && n > 0, "A test has a rate above 0."),
    rtt: number(60_000, "Give a number up to 60000."),
    loss: number(100, "Give a share from 0 to 100."),
  });

type Typed = z.input<ReturnType<typeof schema>>;

export function ByHandForm({ uplinkId, timeZone, onDone }: { uplinkId: string; timeZone: string; onDone: () => void }) {
  const { busy, error, run } = useOrder();
  const { control, handleSubmit } = useForm<Typed, unknown, z.output<ReturnType<typeof schema>>>({
    resolver: zodResolver(schema(timeZone)),
    defaultValues: { time: dayNumberText(new Date().toISOString(), timeZone), rate: "", rtt: "", loss: "" },
  });
  const submit = handleSubmit(async ({ time, rate, rtt, loss }) => {
    const done = await run(() =>
      send("POST", `/uplinks/${uplinkId}/measurements`, {
        takenAt: new Date(readTime(time, timeZone) ?? 0).toISOString(),
        rateBps: Math.round((rate ?? 0) * 1e6),
        layer: "ip",
        source: "by hand",
        ...(rtt === undefined ? {} : { rttMs: rtt }),
        ...(loss === undefined ? {} : { lossRatio: loss / 100 }),
      }),
    );
    if (done) onDone();
  });
  return (
    <>
      <FormField control={control} name="time" label="Taken at, on the venue's clock" />
      <FormField control={control} name="rate" label="Upload rate" unit="Mb/s" />
      <FormField control={control} name="rtt" label="Round trip, if known" unit="ms" />
      <FormField control={control} name="loss" label="Loss, if known" unit="%" />
      <ProblemNote error={error} />
      <Button look="main" busy={busy} onPress={() => void submit()}>
        Add the test
      </Button>
    </>
  );
}
