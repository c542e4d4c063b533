import { encoder, type Reach } from "@ukaza/contract/encoder";
import { Refusal } from "@ukaza/contract/problem";
import { broadcast, broadcastCreated, encoderConfig, encoderStatus, lineUplink } from "@ukaza/contract/standins";
import { call } from "./call";
import type { Drivers } from "./drivers";

/** Where the stand-ins listen: name → origin, such as "oriel-public" → "http://127.0.0.1:4311". */
export type Addresses = Record<string, string>;

/** Drivers for the stand-ins that ship with the product, over their documented HTTP interfaces. */
export function standinDrivers(addresses: Addresses): Drivers {
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
    encoder: (reach) => {
      const at = (path: string) => `${origin(reach)}/v1/${path}`;
      return {
        describe: () => call(encoder, "GET", at("encoder")),
        configure: (config) => call(encoderConfig, "PUT", at("config"), config),
        held: () => call(encoderConfig, "GET", at("config")),
        status: () => call(encoderStatus, "GET", at("status")),
        start: async (feedId) => void (await call(encoderStatus, "POST", at(`feeds/${feedId}/start`))),
        stop: async (feedId) => void (await call(encoderStatus, "POST", at(`feeds/${feedId}/stop`))),
      };
    },
    platform: (reach) => {
      const at = (path: string) => `${origin(reach)}/v1/broadcasts${path}`;
      return {
        create: (order) => call(broadcastCreated, "POST", at(""), order),
        show: (id) => call(broadcast, "GET", at(`/${id}`)),
        goPublic: (id) => call(broadcast, "POST", at(`/${id}/public`)),
        end: (id) => call(broadcast, "POST", at(`/${id}/end`)),
        setSource: (id, role) => call(broadcast, "PUT", at(`/${id}/source`), { role }),
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
