/** Runs `work` once a second, on the second, one at a time; a slow one skips seconds rather than piling up. */
export function everySecond(work: (now: Date) => Promise<void> | void): () => void {
  let stopped = false;
  let timer: NodeJS.Timeout;
  const plan = () => {
    timer = setTimeout(async () => {
      await work(new Date());
      if (!stopped) plan();
    }, 1000 - (Date.now() % 1000));
  };
  plan();
  return () => {
    stopped = true;
    clearTimeout(timer);
  };
}
