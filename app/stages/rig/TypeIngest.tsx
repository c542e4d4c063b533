import type { RigNow, Role } from "@ukaza/contract/rig";
import { useState } from "react";
import { send } from "../../data/api";
import { useOrder } from "../../data/hooks";
import { Button } from "../../ui/Button";
import { Field } from "../../ui/Field";
import { Panel } from "../../ui/Panel";
import { ProblemNote } from "../../ui/Problem";
import { Words } from "../../ui/Words";

interface Props {
  eventId: string;
  asked: RigNow["toType"][number];
  platform: string;
  held: boolean;
  onDone: () => void;
}

const title: Record<Role, string> = { main: "Main ingest", backup: "Backup ingest" };

/** Address and key of a platform that nothing reaches, copied once from its page; from here on they are compared, not typed. */
export function TypeIngest({ eventId, asked, platform, held, onDone }: Props) {
  const { busy, error, run, forget } = useOrder();
  const [open, setOpen] = useState(!held);
  const [typed, setTyped] = useState({ address: "", key: "", user: "", password: "", passphrase: "" });
  const set = (field: keyof typeof typed) => (value: string) => {
    setTyped({ ...typed, [field]: value });
    forget();
  };
  const save = async () => {
    const body = {
      role: asked.role,
      address: typed.address,
      key: typed.key,
      login: typed.user || typed.password ? { user: typed.user, password: typed.password } : null,
      passphrase: typed.passphrase || null,
    };
    if (!(await run(() => send<RigNow>("PUT", `/events/${eventId}/rig/ingest`, body)))) return;
    // What was typed does not stay on the screen.
    setTyped({ address: "", key: "", user: "", password: "", passphrase: "" });
    setOpen(false);
    onDone();
  };
  if (!open)
    return (
      <Button className="self-start" onPress={() => setOpen(true)}>
        {`Type the ${asked.role} address and key anew`}
      </Button>
    );
  return (
    <Panel title={`${title[asked.role]} of ${platform}`}>
      <Field label="Address" value={typed.address} onChange={set("address")} hint="rtmp://server/live" />
      <Field label="Stream key" value={typed.key} onChange={set("key")} secret />
      {asked.login ? (
        <>
          <Field label="User name" value={typed.user} onChange={set("user")} />
          <Field label="Password" value={typed.password} onChange={set("password")} secret />
        </>
      ) : null}
      {asked.passphrase ? <Field label="Passphrase" value={typed.passphrase} onChange={set("passphrase")} secret /> : null}
      <ProblemNote error={error} />
      <Button look="main" className="self-start" busy={busy} onPress={() => void save()}>
        Keep them
      </Button>
      <Words kind="small">They are kept encrypted.</Words>
    </Panel>
  );
}
