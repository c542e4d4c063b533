import type { RuleSheet } from "@ukaza/contract/ruleSheet";
import type { UplinkSurvey } from "@ukaza/contract/survey";
import { carriesOf, type Kind } from "@ukaza/core/survey/carries";
import { useMemo, useState } from "react";
import { Pressable, Text, View } from "react-native";
import { usePlatforms } from "../../data/hooks";
import { Loaded } from "../../ui/Loaded";
import { Panel } from "../../ui/Panel";
import { Words } from "../../ui/Words";
import { frameRateText, rateText, sizeText } from "../../words/units";

const kindText = (k: Kind) => `${sizeText(k)} at ${frameRateText(k.frameRate)}`;

/** What the usable rate carries of every platform in the book. */
export function CarriesPanel({ survey }: { survey: UplinkSurvey }) {
  const { result, uplink } = survey;
  const platforms = usePlatforms();
  return (
    <Panel title="What will it carry?">
      {result.usableBps === null ? (
        <Words kind="faded">{`${uplink.name} has not been measured. One test tells what it carries.`}</Words>
      ) : (
        <>
          <Words kind="small">{`Of ${rateText(result.usableBps)} usable, one feed alone at the bitrate that each platform recommends, with all overheads.`}</Words>
          <Loaded state={platforms}>
            {(listed) => (
              <View>
                {listed.map(({ sheet }) => (
                  <PlatformRow key={sheet.platform.id} sheet={sheet} survey={survey} usableBps={result.usableBps ?? 0} />
                ))}
              </View>
            )}
          </Loaded>
        </>
      )}
    </Panel>
  );
}

function PlatformRow({ sheet, survey, usableBps }: { sheet: RuleSheet; survey: UplinkSurvey; usableBps: number }) {
  const [open, setOpen] = useState(false);
  const { rttMs, lossRatio } = survey.path;
  const { largest, utmost, kinds, leastLoadBps } = useMemo(
    () => carriesOf(sheet, usableBps, { rttMs: rttMs ?? undefined, lossRatio: lossRatio ?? undefined }),
    [sheet, usableBps, rttMs, lossRatio],
  );
  const beyond = utmost && (!largest || utmost.width * utmost.height > largest.width * largest.height) ? utmost : null;
  const best = largest ? kindText(largest) : beyond ? `${kindText(beyond)}, at the least bitrate only` : "nothing";
  const why = largest
    ? `${rateText(largest.videoBps)} video over ${largest.protocol.toUpperCase()} loads ${rateText(largest.loadBps)}. ${fitsText(largest.fits)}`
    : Number.isFinite(leastLoadBps)
      ? `Its smallest picture needs ${rateText(leastLoadBps)}.`
      : "Loss and round trip leave no room for a TCP feed here.";
  return (
    <View className="border-b border-rule">
      <Pressable
        role="button"
        aria-expanded={open}
        aria-label={`${sheet.platform.name}: ${best}`}
        onPress={() => setOpen(!open)}
        className="min-h-[56px] justify-center py-2"
      >
        <View className="flex-row justify-between gap-3">
          <Text className="shrink font-words text-base text-faded">{sheet.platform.name}</Text>
          <Text className="shrink text-right font-strong text-base text-ink">{best}</Text>
        </View>
        <Text className="font-words text-sm text-faded">{why}</Text>
        {largest && beyond ? (
          <Text className="font-words text-sm text-faded">{`At its least bitrate even ${kindText(beyond)}.`}</Text>
        ) : null}
      </Pressable>
      {open ? (
        <View className="pb-3">
          <Words kind="small">How many such feeds fit at the same time:</Words>
          {kinds.map((k) => (
            <View key={`${sizeText(k)}${k.codec}`} className="flex-row justify-between gap-3 py-1">
              <Words className="shrink">{`${kindText(k)}, ${rateText(k.loadBps)} each`}</Words>
              <Words kind="strong">{String(k.fits)}</Words>
            </View>
          ))}
        </View>
      ) : null}
    </View>
  );
}

const fitsText = (n: number) => (n === 1 ? "One such feed fits." : `${n} such feeds fit at the same time.`);
