import { act, cleanup, fireEvent, render, screen } from "@testing-library/react";
import type { Finding } from "@ukaza/contract/findings";
import type { Step } from "@ukaza/contract/lineup";
import { noFacts } from "@ukaza/core/lineup/runSheet";
import { verdict } from "../../core/test/kit";
import { SampleStore } from "../data/samples";
import { Findings } from "../stages/fit/Findings";
import { StepRow } from "../stages/lineup/StepRow";
import { ReserveField } from "../stages/survey/ReserveField";
import { day, night } from "../theme/colours";
import { HoldButton } from "../ui/HoldButton";
import { LoadLine } from "../ui/LoadLine";
import { StateMark } from "../ui/StateMark";

afterEach(() => {
  cleanup();
  jest.useRealTimers();
});

describe("a dangerous step", () => {
  const show = () => {
    jest.useFakeTimers();
    const done = jest.fn();
    render(
      <HoldButton warning="This cannot be taken back." onConfirm={done}>
        Go public
      </HoldButton>,
    );
    return { done, button: screen.getByRole("button", { name: /Go public/ }) };
  };
  const wait = (ms: number) => {
    for (let t = 0; t < ms; t += 50) act(() => void jest.advanceTimersByTime(50));
  };

  test("takes hold after one second of pressing, once", () => {
    const { done, button } = show();
    fireEvent.pointerDown(button);
    wait(900);
    expect(done).not.toHaveBeenCalled();
    wait(300);
    expect(done).toHaveBeenCalledTimes(1);
    wait(3000);
    expect(done).toHaveBeenCalledTimes(1);
  });

  test("let go too soon, it does nothing and says how it works", () => {
    const { done, button } = show();
    fireEvent.pointerDown(button);
    wait(500);
    fireEvent.pointerUp(button);
    wait(2000);
    expect(done).not.toHaveBeenCalled();
    expect(screen.getByText(/Nothing has happened yet/)).toBeTruthy();
  });

  test("pressed without a pointer, it asks once more", () => {
    const { done, button } = show();
    fireEvent.click(button);
    expect(done).not.toHaveBeenCalled();
    fireEvent.click(screen.getByRole("button", { name: "No" }));
    expect(screen.queryByRole("button", { name: "Yes, go public" })).toBeNull();
    fireEvent.click(button);
    fireEvent.click(screen.getByRole("button", { name: "Yes, go public" }));
    expect(done).toHaveBeenCalledTimes(1);
  });
});

test("a finding says what is and what is wanted, and its mend hands over the change", () => {
  const finding: Finding = {
    code: "audio-over-max",
    level: "blocks",
    field: "audioBps",
    is: 160_000,
    wanted: { max: 128_000 },
    rule: { by: "sheet", clause: "audio" },
    mend: { audioBps: 128_000 },
  };
  const onMend = jest.fn();
  const { rerender } = render(<Findings findings={[finding]} fixed={false} onMend={onMend} onMendAll={jest.fn()} />);
  expect(screen.getByText("Audio at 160 kb/s is over the platform's maximum of 128 kb/s.")).toBeTruthy();
  fireEvent.click(screen.getByRole("button", { name: "Set audio bitrate 128 kb/s" }));
  expect(onMend).toHaveBeenCalledWith({ audioBps: 128_000 });
  rerender(<Findings findings={[finding]} fixed onMend={onMend} onMendAll={jest.fn()} />);
  expect(screen.queryByRole("button")).toBeNull();
});

test("the load line says in words what it draws, and by how much it is over", () => {
  const { rerender } = render(
    <LoadLine name="Hall fibre" usableBps={10e6} sustainableBps={12.5e6} cargo={[{ name: "Main", loadBps: 6e6 }]} />,
  );
  expect(screen.getByRole("img").getAttribute("aria-label")).toBe("Hall fibre: load 6.0 Mb/s of 10.0 Mb/s usable, 12.5 Mb/s sustainable.");
  expect(screen.getByText("4.0 Mb/s free")).toBeTruthy();
  rerender(
    <LoadLine
      name="Hall fibre"
      usableBps={10e6}
      sustainableBps={12.5e6}
      cargo={[
        { name: "Main", loadBps: 6e6 },
        { name: "Backup", loadBps: 6e6 },
      ]}
    />,
  );
  expect(screen.getByText("over by 2.0 Mb/s")).toBeTruthy();
});

const step = (more: Partial<Step>): Step => ({
  id: "preview",
  actor: "platform",
  state: "waiting",
  needs: ["verdict"],
  missing: [],
  irreversible: false,
  freezes: [],
  typicalS: 20,
  longestS: 60,
  waitingSince: new Date(Date.now() - 12_000).toISOString(),
  doneAt: null,
  reason: null,
  ...more,
});
const facts = { ...noFacts, configured: true };
const row = (s: Step) => (
  <StepRow step={s} place={4} platform="Oriel Public" facts={facts} timeZone="UTC" busy={false} onTake={() => undefined} />
);

test("waiting that is normal counts, and waiting that is late says so", () => {
  const { rerender } = render(row(step({})));
  expect(screen.getByText("Usually there after 20 s; 12 s so far.")).toBeTruthy();
  rerender(row(step({ state: "late", waitingSince: new Date(Date.now() - 75_000).toISOString() })));
  expect(screen.getByText(/at most 60 s; 75 s so far/)).toBeTruthy();
  rerender(row(step({ state: "locked", waitingSince: null, missing: ["verdict"] })));
  expect(screen.getByText("First: platform judges the stream.")).toBeTruthy();
  expect(screen.queryByRole("button")).toBeNull();
});

test("a reserve that makes no sense cannot be set", () => {
  render(<ReserveField uplinkId="u" result={verdict()} />);
  fireEvent.click(screen.getByRole("button", { name: "Change the reserve" }));
  fireEvent.change(screen.getByRole("textbox", { name: "Reserve, %" }), { target: { value: "120" } });
  expect(screen.getByText("Give a share from 0 to 90.")).toBeTruthy();
  expect(screen.getByRole("button", { name: "Set" }).getAttribute("aria-disabled")).toBe("true");
});

test("a state is a shape and a word, never a colour alone", () => {
  const shapes = (["steady", "strained", "broken", "silent"] as const).map((health) => {
    const { container } = render(<StateMark health={health} />);
    const drawn = container.querySelector("svg")?.innerHTML.replace(/(fill|stroke)="#[^"]*"/g, "");
    cleanup();
    return drawn;
  });
  expect(new Set(shapes).size).toBe(4);
});

test("samples arrive once each, in order, and no more are kept than five minutes", () => {
  const store = new SampleStore();
  const sample = (s: number) => ({ feedId: "f", at: new Date(s * 1000).toISOString() }) as never;
  store.add([sample(3), sample(1)]);
  store.add([sample(2), sample(3)]);
  expect(store.snapshot().f?.map((s) => Date.parse(s.at) / 1000)).toEqual([1, 2, 3]);
  store.add(Array.from({ length: 400 }, (_, i) => sample(10 + i)));
  expect(store.snapshot().f).toHaveLength(300);
});

/** Contrast of two colours (WCAG 2.2, 1.4.3). */
function contrast(a: string, b: string): number {
  const light = (hex: string) => {
    const [r = 0, g = 0, blue = 0] = [1, 3, 5]
      .map((i) => Number.parseInt(hex.slice(i, i + 2), 16) / 255)
      .map((c) => (c <= 0.04045 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4));
    return 0.2126 * r + 0.7152 * g + 0.0722 * blue;
  };
  const [x, y] = [light(a), light(b)];
  return (Math.max(x, y) + 0.05) / (Math.min(x, y) + 0.05);
}

test.each([
  ["day", day],
  ["night", night],
] as const)("by %s every text holds 4.5 to 1 on paper and sheet", (_name, colours) => {
  for (const text of ["ink", "faded", "deep", "steady", "strained", "broken", "silent"] as const) {
    for (const ground of ["paper", "sheet"] as const) expect(contrast(colours[text], colours[ground])).toBeGreaterThanOrEqual(4.5);
  }
  expect(contrast(colours["on-deep"], colours.deep)).toBeGreaterThanOrEqual(4.5);
  expect(contrast(colours["on-deep"], colours.tally)).toBeGreaterThanOrEqual(4.5);
});
