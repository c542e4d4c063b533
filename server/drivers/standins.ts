import { DEVICE_GRANT, deviceAuthorization, tokenGranted, tokenRefused } from "@ukaza/contract/deviceCode";
import { encoder, type Reach } from "@ukaza/contract/encoder";
import { Refusal } from "@ukaza/contract/problem";
import { type Broadcast, broadcast, broadcastCreated, encoderConfig, encoderStatus, lineUplink } from "@ukaza/contract/standins";
import { call } from "./call";
import type { Drivers, EncoderDriver, PlatformDriver } from "./drivers";

/** Where the stand-ins listen: name → origin, such as "oriel-public" → "http://127.0.0.1:4311". */
export type Addresses = Record<string, string>;

/** How this program calls itself to those that let it in. */
const CLIENT = "ukaza";

const refuse = () =>
  Promise.reject(new Refusal(409, "device-by-hand", "nothing reaches this encoder from here", "Do the step on the encoder itself."));

/** An encoder that only a person reaches: it is started and stopped on its own page, and says nothing of itself. */
const byHand: EncoderDriver = {
  describe: refuse,
  configure: refuse,
  held: refuse,
  status: refuse,
  start: () => Promise.resolve(),
  stop: () => Promise.resolve(),
};

const asDone: Broadcast = {
  id: "by-hand",
  state: "created",
  source: "main",
  ingests: [],
  previewReady: false,
  publicAt: null,
  endedAt: null,
  costSoFar: null,
};

/** A platform that only a person reaches: what is done there is done on its own page, and it says nothing of itself. */
const platformByHand: PlatformDriver = {
  askForCode: refuse,
  askForToken: refuse,
  create: () =>
    Promise.reject(
      new Refusal(
        409,
        "platform-by-hand",
        "nothing reaches this platform from here",
        "Create the broadcast on its own page, then type address and key here.",
      ),
    ),
  show: refuse,
  goPublic: () => Promise.resolve(asDone),
  end: () => Promise.resolve(asDone),
  setSource: () => Promise.resolve(asDone),
};

/** Drivers for devices and services that speak the documented HTTP interfaces: the stand-ins that ship, and any by its address. */
export function standinDrivers(addresses: Addresses, tokenFor: (reach: Reach) => string | null): Drivers {
  const named = (name: string) => {
    const found = addresses[name];
    if (!found)
      throw new Refusal(502, "device-not-known", `no address is known for the stand-in "${name}"`, "Start the server with its address.");
    return found;
  };
  const origin = (reach: Reach) => {
    if (reach.driver === "none")
      throw new Refusal(409, "device-by-hand", "nothing reaches this device from here", "Do the step on the device itself.");
    return reach.driver === "http" ? reach.address.replace(/\/+$/, "") : named(reach.name);
  };
  return {
    encoder: (e): EncoderDriver => {
      if (e.reach.driver === "none") return byHand;
      const at = (path: string) => `${origin(e.reach)}/v1/${path}`;
      // A device under remote control is known by its serial number.
      const plate: Record<string, string> = e.serial === "" ? {} : { "x-serial": e.serial };
      return {
        describe: () => call(encoder, "GET", at("encoder"), undefined, plate),
        configure: (config) =>
          e.setBy === "settings file"
            ? call(
                encoderConfig,
                "POST",
                at("settings-file"),
                { format: "encoder-settings", version: 1, serial: e.serial, ...config },
                plate,
              )
            : call(encoderConfig, "PUT", at("config"), config, plate),
        held: () => call(encoderConfig, "GET", at("config"), undefined, plate),
        status: () => call(encoderStatus, "GET", at("status"), undefined, plate),
        start: async (feedId) => void (await call(encoderStatus, "POST", at(`feeds/${feedId}/start`), undefined, plate)),
        stop: async (feedId) => void (await call(encoderStatus, "POST", at(`feeds/${feedId}/stop`), undefined, plate)),
      };
    },
    platform: (reach): PlatformDriver => {
      if (reach.driver === "none") return platformByHand;
      const at = (path: string) => `${origin(reach)}/v1/broadcasts${path}`;
      const bearer = () => ({ authorization: `Bearer ${tokenFor(reach) ?? ""}` });
      const form = (fields: Record<string, string>) => new URLSearchParams({ client_id: CLIENT, ...fields });
      return {
        askForCode: () => call(deviceAuthorization, "POST", `${origin(reach)}/oauth/device_authorization`, form({})),
        askForToken: (code) =>
          call(
            tokenGranted.or(tokenRefused),
            "POST",
            `${origin(reach)}/oauth/token`,
            form({ grant_type: DEVICE_GRANT, device_code: code }),
          ),
        create: (order) => call(broadcastCreated, "POST", at(""), order, bearer()),
        show: (id) => call(broadcast, "GET", at(`/${id}`), undefined, bearer()),
        goPublic: (id) => call(broadcast, "POST", at(`/${id}/public`), undefined, bearer()),
        end: (id) => call(broadcast, "POST", at(`/${id}/end`), undefined, bearer()),
        setSource: (id, role) => call(broadcast, "PUT", at(`/${id}/source`), { role }, bearer()),
      };
    },
    line: addresses.line
      ? {
          list: () => call(lineUplink.array(), "GET", `${named("line")}/v1/uplinks`),
          trouble: (id, change) => call(lineUplink, "POST", `${named("line")}/v1/uplinks/${id}/trouble`, change),
        }
      : null,
  };
}
