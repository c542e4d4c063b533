/** Thresholds of the health model. Shares of target or frames from 0 to 1, times in seconds or ms as named. */
export const healthRules = {
  windowS: 5,
  longWindowS: 30,
  strained: { sentBelow: 0.9, droppedOver: 0.01, queueMsOver: 1_000, rttTimes: 3 },
  broken: { sentBelow: 0.5, droppedOver: 0.1, queueMsOver: 5_000, stillForS: 10 },
  silentAfterS: 5,
  worseAfterSamples: 2,
  betterAfterSamples: 10,
  /** Below this the sound counts as gone. */
  soundGoneDb: -60,
  /** Below this share of change the picture counts as standing still. */
  stillBelow: 0.002,
  encoderLoadOver: 0.95,
  framesBelow: 0.95,
  retransmittedOver: 0.05,
} as const;
