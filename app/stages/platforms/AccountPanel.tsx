import type { AccountNow } from "@ukaza/contract/deviceCode";
import { useEffect, useRef } from "react";
import { Linking, Text, View } from "react-native";
import { send } from "../../data/api";
import { useAccount, useOrder } from "../../data/hooks";
import { Button } from "../../ui/Button";
import { Loaded } from "../../ui/Loaded";
import { Panel } from "../../ui/Panel";
import { ProblemNote } from "../../ui/Problem";
import { StateMark } from "../../ui/StateMark";
import { useNow } from "../../ui/useNow";
import { Words } from "../../ui/Words";
import { clock, dayNumberText } from "../../words/units";

const zone = Intl.DateTimeFormat().resolvedOptions().timeZone;

const whyText: Record<(AccountNow & { state: "none" })["why"], string> = {
  never: "It has not let Ukaza in yet: broadcasts cannot be created from here.",
  denied: "The code was refused on the platform's page.",
  expired: "The code ran out before anybody approved it.",
  unreachable: "The platform stopped answering while the code waited.",
  withdrawn: "The account was disconnected here.",
};

/** Whether a platform has let this server in, and the code that a person approves on the platform's own page. */
export function AccountPanel({ platformId, name, onChange }: { platformId: string; name: string; onChange?: () => void }) {
  const account = useAccount(platformId);
  const { busy, error, run } = useOrder();
  const state = account.data?.state;
  const before = useRef(state);
  useEffect(() => {
    if (before.current === "waiting" && state === "connected") onChange?.();
    before.current = state;
  }, [state, onChange]);
  const change = async (method: "POST" | "DELETE") => {
    const now = await run(() => send<AccountNow>(method, `/platforms/${platformId}/account`));
    if (!now) return;
    await account.mutate(now, { revalidate: false });
    onChange?.();
  };
  if (state === "by hand") return null;
  return (
    <Panel title="Account">
      <Loaded state={account}>
        {(now) =>
          now.state === "connected" ? (
            <>
              <StateMark health="steady" word="Connected" />
              <Words kind="small">{`${name} let Ukaza in on ${dayNumberText(now.since, zone)}. The token is kept encrypted and is never shown.`}</Words>
              <Button className="self-start" busy={busy} onPress={() => void change("DELETE")}>
                Disconnect
              </Button>
            </>
          ) : now.state === "waiting" ? (
            <Waiting account={now} name={name} busy={busy} onCancel={() => void change("DELETE")} />
          ) : now.state === "none" ? (
            <>
              <Words>{whyText[now.why]}</Words>
              <Button look="main" className="self-start" busy={busy} onPress={() => void change("POST")}>
                {`Connect ${name}`}
              </Button>
            </>
          ) : null
        }
      </Loaded>
      <ProblemNote error={error} />
    </Panel>
  );
}

function Waiting({
  account,
  name,
  busy,
  onCancel,
}: {
  account: AccountNow & { state: "waiting" };
  name: string;
  busy: boolean;
  onCancel: () => void;
}) {
  const nowMs = useNow();
  const leftS = Math.max(0, (Date.parse(account.expiresAt) - nowMs) / 1000);
  return (
    <View className="gap-3">
      <Words>{`Approve this code on the page of ${name}. It needs no copying of keys; this screen goes on by itself.`}</Words>
      <Text selectable aria-label={`Code ${account.userCode}`} className="font-figures text-[32px] leading-10 text-ink">
        {account.userCode}
      </Text>
      <Words kind="small">{account.page}</Words>
      <Words kind="small">{`It runs out in ${clock(leftS)}.`}</Words>
      <View className="flex-row flex-wrap gap-2">
        <Button look="main" onPress={() => void Linking.openURL(account.pageWithCode)}>
          Open the page
        </Button>
        <Button busy={busy} onPress={onCancel}>
          Cancel
        </Button>
      </View>
    </View>
  );
}
