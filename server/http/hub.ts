import type { StreamMessage } from "@ukaza/contract/air";
import { type Channel, createChannel, createSession } from "better-sse";
import type { RequestHandler } from "express";

/** Each event has a stream of server-sent events; what is published to nobody is gone. */
export class Hub {
  private readonly channels = new Map<string, Channel>();

  private channel(eventId: string): Channel {
    const known = this.channels.get(eventId);
    if (known) return known;
    const made = createChannel();
    this.channels.set(eventId, made);
    return made;
  }

  publish(eventId: string, message: StreamMessage): void {
    this.channels.get(eventId)?.broadcast(message, "message");
  }

  handler(eventIdOf: (params: Record<string, string>) => string): RequestHandler {
    return async (request, response) => {
      const session = await createSession(request, response, { keepAlive: 10_000 });
      this.channel(eventIdOf(request.params as Record<string, string>)).register(session);
    };
  }
}
