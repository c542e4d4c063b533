import type { RuleSheet } from "@ukaza/contract/ruleSheet";
import { type Common, commonPictures } from "@ukaza/core/rules/common";
import { useState } from "react";
import { ScrollView, Text, View } from "react-native";
import { Choice } from "../../ui/Choice";
import { Panel } from "../../ui/Panel";
import { Row } from "../../ui/Row";
import { Several } from "../../ui/Several";
import { useWide } from "../../ui/useWide";
import { Words } from "../../ui/Words";
import { attributes, questions } from "../../words/sheet";
import { frameRateText, rateText, sizeText } from "../../words/units";

/** All platforms beside one another: who takes what, all attributes, and what a chosen few take alike. */
export function ComparePanel({ sheets }: { sheets: RuleSheet[] }) {
  const wide = useWide();
  return (
    <>
      <WhoTakes sheets={sheets} />
      <Alike sheets={sheets} />
      {wide ? <Table sheets={sheets} /> : <OneByOne sheets={sheets} />}
    </>
  );
}

function WhoTakes({ sheets }: { sheets: RuleSheet[] }) {
  const [asked, setAsked] = useState<string>(questions[0]?.id ?? "");
  const question = questions.find((q) => q.id === asked);
  const takers = question ? sheets.filter(question.takes) : [];
  return (
    <Panel title="Who takes it?">
      <Choice label="Who takes it?" value={asked} options={questions.map((q) => ({ value: q.id, word: q.word }))} onChange={setAsked} />
      <Words testID="takers">
        {takers.length === 0
          ? "None of the platforms in the book."
          : takers.length === sheets.length
            ? "All of them."
            : `${takers.map((s) => s.platform.name).join(", ")}.`}
      </Words>
    </Panel>
  );
}

/** What one engine could send to several platforms at once. */
function Alike({ sheets }: { sheets: RuleSheet[] }) {
  const [chosen, setChosen] = useState<string[]>(() => sheets.slice(0, 2).map((s) => s.platform.id));
  const [best, ...others] = commonPictures(sheets.filter((s) => chosen.includes(s.platform.id)));
  return (
    <Panel title="What do they take alike?">
      <Several value={chosen} options={sheets.map(({ platform }) => ({ value: platform.id, word: platform.name }))} onChange={setChosen} />
      <Words kind="strong" testID="alike">
        {chosen.length === 0
          ? "Choose two or more."
          : best
            ? `Largest: ${sizeText(best)} at ${frameRateText(best.frameRate)}, ${rateText(best.videoBps)}.`
            : "No size and rate that all of these take: each needs an engine of its own."}
      </Words>
      {best ? <Words>{commonText(best, others.length)}</Words> : null}
    </Panel>
  );
}

function commonText(c: Common, more: number): string {
  const audio = c.audioBps === null ? "their audio ranges have nothing in common" : `audio at ${rateText(c.audioBps)}`;
  return `They take ${rateText(c.minBps)} to ${rateText(c.maxBps)} there in ${c.codec === "h264" ? "H.264" : c.codec.toUpperCase()} ${c.profiles.join(" or ")}; ${audio}. ${more === 0 ? "Nothing else is common to them." : `${more} more sizes and rates are common to them.`}`;
}

function Table({ sheets }: { sheets: RuleSheet[] }) {
  return (
    <Panel title="All of it, side by side">
      <ScrollView horizontal tabIndex={0} aria-label="Platforms side by side" role="region">
        <View role="table" aria-label="Platforms side by side">
          <View role="row" className="flex-row border-b border-rule">
            <Text role="columnheader" className="w-[150px] py-2 font-words text-base text-faded">
              Rule
            </Text>
            {sheets.map((s) => (
              <Text key={s.platform.id} role="columnheader" className="w-[190px] p-2 font-strong text-base text-ink">
                {s.platform.name}
              </Text>
            ))}
          </View>
          {attributes.map((a) => (
            <View key={a.id} role="row" className="flex-row border-b border-rule">
              <Text role="rowheader" className="w-[150px] py-2 font-words text-base text-faded">
                {a.word}
              </Text>
              {sheets.map((s) => (
                <Text key={s.platform.id} role="cell" className="w-[190px] p-2 font-words text-base text-ink">
                  {a.say(s)}
                </Text>
              ))}
            </View>
          ))}
        </View>
      </ScrollView>
    </Panel>
  );
}

/** On the phone one attribute at a time, every platform under it. */
function OneByOne({ sheets }: { sheets: RuleSheet[] }) {
  const [shown, setShown] = useState<string>(attributes[0]?.id ?? "");
  const attribute = attributes.find((a) => a.id === shown);
  return (
    <Panel title="One rule, all platforms">
      <Choice label="Rule" value={shown} options={attributes.map((a) => ({ value: a.id, word: a.word }))} onChange={setShown} />
      <View testID="one-rule">
        {sheets.map((s) => (
          <Row key={s.platform.id} label={s.platform.name}>
            {attribute?.say(s) ?? ""}
          </Row>
        ))}
      </View>
    </Panel>
  );
}
