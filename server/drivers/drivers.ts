import type { DeviceAuthorization, TokenGranted, TokenRefused } from "@ukaza/contract/deviceCode";
import type { Encoder, Reach } from "@ukaza/contract/encoder";
import type { Role } from "@ukaza/contract/rig";
import type {
  Broadcast,
  BroadcastCreated,
  BroadcastOrder,
  EncoderHeld,
  EncoderStatus,
  LineTrouble,
  LineUplink,
} from "@ukaza/contract/standins";

/** The only way to an encoder. Every call throws DriverLost when the device does not answer. */
export interface EncoderDriver {
  /** What the device says that it can do. */
  describe(): Promise<Encoder>;
  configure(config: EncoderHeld): Promise<EncoderHeld>;
  held(): Promise<EncoderHeld>;
  status(): Promise<EncoderStatus>;
  start(feedId: string): Promise<void>;
  stop(feedId: string): Promise<void>;
}

/** The only way to a platform. */
export interface PlatformDriver {
  /** RFC 8628: a code for a person to approve, and the token once that is done. */
  askForCode(): Promise<DeviceAuthorization>;
  askForToken(deviceCode: string): Promise<TokenGranted | TokenRefused>;
  create(order: BroadcastOrder): Promise<BroadcastCreated>;
  show(broadcastId: string): Promise<Broadcast>;
  goPublic(broadcastId: string): Promise<Broadcast>;
  end(broadcastId: string): Promise<Broadcast>;
  setSource(broadcastId: string, role: Role): Promise<Broadcast>;
}

/** The demo's line; real lines have no such thing. */
export interface LineDriver {
  list(): Promise<LineUplink[]>;
  trouble(uplinkId: string, change: LineTrouble): Promise<LineUplink>;
}

export interface Drivers {
  encoder(encoder: Encoder): EncoderDriver;
  platform(reach: Reach): PlatformDriver;
  /** null: there is no stand-in line. */
  line: LineDriver | null;
}
