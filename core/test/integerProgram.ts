import type { FitProblem } from "@ukaza/contract/fit";
import { POINT } from "../fit/plan/makes";
import { compile } from "../fit/plan/model";

/**
 * A problem as an integer program in LP format, for a general library to solve: one yes or no for every engine's settings,
 * and one for every destination's way of taking them. Only for problems whose destinations agree on audio, keyframes and
 * RTMP, so that sharing an engine changes nothing but who shares it. Objective in points.
 */
export function integerProgram(problem: FitProblem): string {
  const { takers, makes } = compile(problem);
  const objective: string[] = [];
  const rows: string[] = [];
  const binaries: string[] = [];
  const engines = new Map<string, { encoder: number; lumaPerS: number; name: string }>();
  const byEncoder = problem.encoders.map(() => [] as string[]);
  const feeds = problem.encoders.map(() => [] as string[]);
  const loads = problem.uplinks.map(() => [] as string[]);
  let count = 0;
  for (const t of takers) {
    const own: string[] = [];
    for (const terms of t.terms)
      t.encoders.forEach((encoders) => {
        const [encoder] = encoders as [number];
        const [make] = makes.of([terms], encoders);
        if (!make) return;
        make.bps.forEach((bps, i) => {
          const key = `${encoder} ${terms.picture.index} ${bps}`;
          let engine = engines.get(key);
          if (!engine) {
            engine = { encoder, lumaPerS: make.lumaPerS, name: `y${engines.size}` };
            engines.set(key, engine);
            binaries.push(engine.name);
            byEncoder[encoder]?.push(engine.name);
          }
          for (const route of t.routes) {
            const name = `x${count++}`;
            binaries.push(name);
            own.push(name);
            objective.push(`${((t.weight * (make.q[i] as number)) / POINT).toFixed(6)} ${name}`);
            rows.push(`${name} - ${engine.name} <= 0`);
            feeds[encoder]?.push(`${route.length} ${name}`);
            for (const u of route) loads[u]?.push(`${((make.loads("rtmp", u)[i] as number) / 1000).toFixed(3)} ${name}`);
          }
        });
      });
    rows.push(`${own.join(" + ")} ${t.given.must ? "=" : "<="} 1`);
  }
  problem.encoders.forEach((e, i) => {
    const names = byEncoder[i] as string[];
    if (names.length === 0) return;
    rows.push(`${names.join(" + ")} <= ${e.engines}`);
    const luma = [...engines.values()].filter((engine) => engine.encoder === i).map((engine) => `${engine.lumaPerS / 1000} ${engine.name}`);
    rows.push(`${luma.join(" + ")} <= ${e.maxLumaPerS / 1000}`);
    rows.push(`${feeds[i]?.join(" + ")} <= ${e.maxFeeds}`);
  });
  problem.uplinks.forEach((u, i) => {
    if (loads[i]?.length) rows.push(`${loads[i]?.join(" + ")} <= ${u.usableBps / 1000}`);
  });
  const lines = (parts: string[]) => parts.map((part, i) => (i > 0 && i % 8 === 0 ? `\n ${part}` : part)).join(" + ");
  const body = rows.map((row, i) => ` r${i}: ${row.replace(/ \+ /g, (m, at: number) => (at % 199 < 3 ? "\n + " : m))}`).join("\n");
  return `Maximize\n obj: ${lines(objective)}\nSubject To\n${body}\nBinary\n ${binaries.map((b, i) => (i % 10 === 9 ? `${b}\n` : b)).join(" ")}\nEnd\n`;
}
