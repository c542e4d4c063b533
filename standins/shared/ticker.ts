const EARLY_MS = 100;

/** Runs `work` once a second, on the second, one at a time; a slow one skips seconds rather than piling up. */
export function everySecond(work: (now: Date) => Promise<void> | void): () => void {
  let stopped = false;
  let timer: NodeJS.Timeout;
  const plan = () => {
    // A timer may fire a moment early; the slack keeps it from firing twice for one second.
    const next = (Math.floor((Date.now() + EARLY_MS) / 1000) + 1) * 1000;
    timer = setTimeout(async () => {
      await work(new Date());
      if (!stopped) plan();
    }, next - Date.now());
  };
  plan();
  return () => {
    stopped = true;
    clearTimeout(timer);
  };
}
