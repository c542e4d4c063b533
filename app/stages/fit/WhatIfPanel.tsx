import { asMeasured, isSupposed, type WhatIf } from "@ukaza/core/fit/whatIf";
import { Button } from "../../ui/Button";
import { Panel } from "../../ui/Panel";
import { RangeField } from "../../ui/RangeField";
import { Words } from "../../ui/Words";
import { percent } from "../../words/units";

/** Lines other than those that were measured: everything beside it moves along. */
export function WhatIfPanel({ whatIf, ownReserve, onChange }: { whatIf: WhatIf; ownReserve: number; onChange: (whatIf: WhatIf) => void }) {
  return (
    <Panel
      title="What if"
      aside={isSupposed(whatIf) ? <Button onPress={() => onChange(asMeasured)}>Back to what was measured</Button> : null}
    >
      <RangeField
        label="Every line carries"
        said={whatIf.lineShare === 1 ? "as measured" : `${percent(whatIf.lineShare)} of it`}
        value={whatIf.lineShare}
        min={0.2}
        max={1.5}
        step={0.05}
        onChange={(lineShare) => onChange({ ...whatIf, lineShare })}
      />
      <RangeField
        label="Reserve"
        said={whatIf.reserve === null ? `${percent(ownReserve)}, as surveyed` : percent(whatIf.reserve)}
        value={whatIf.reserve ?? Math.round(ownReserve * 20) / 20}
        min={0}
        max={0.7}
        step={0.05}
        onChange={(reserve) => onChange({ ...whatIf, reserve })}
      />
      <Words kind="small">The plan, its findings and the load lines follow. What you choose is kept against what was measured.</Words>
    </Panel>
  );
}
