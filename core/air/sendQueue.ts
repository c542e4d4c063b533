/** What an encoder's send buffer does in one second: the stand-in encoders' own behaviour. */
export interface SendQueue {
  queuedBits: number;
}

/** Longest queue an encoder keeps before it throws frames away, in seconds of its own bitrate (rule of thumb). */
const QUEUE_LIMIT_S = 6;

export interface SendSecond {
  queue: SendQueue;
  sentBits: number;
  queueMs: number;
  droppedFrames: number;
}

/**
 * One second: `madeBits` join the queue, `carriedBits` leave it, and what is over the limit is dropped,
 * counted in frames of the feed's own size.
 */
export function sendQueueStep(queue: SendQueue, madeBits: number, carriedBits: number, framesPerS: number): SendSecond {
  const waiting = queue.queuedBits + madeBits;
  const sentBits = Math.min(waiting, carriedBits);
  const left = waiting - sentBits;
  const limit = madeBits * QUEUE_LIMIT_S;
  const droppedBits = Math.max(0, left - limit);
  return {
    queue: { queuedBits: left - droppedBits },
    sentBits,
    queueMs: madeBits === 0 ? 0 : ((left - droppedBits) / madeBits) * 1000,
    droppedFrames: madeBits === 0 ? 0 : Math.min(framesPerS, (droppedBits / madeBits) * framesPerS),
  };
}
