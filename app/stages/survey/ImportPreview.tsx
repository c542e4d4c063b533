import { useState } from "react";
import { Text, View } from "react-native";
import useSWR from "swr";
import { Choice } from "../../ui/Choice";
import { PagedList } from "../../ui/PagedList";
import { Row } from "../../ui/Row";
import { Words } from "../../ui/Words";
import { dayNumberText, rateText } from "../../words/units";
import type { Preview, PreviewRow, RowVerdict } from "../../workers/importSession";
import type { OpenImport } from "../../workers/openImport";

const verdictWord: Record<RowVerdict, string> = { new: "will be taken", known: "known", wrong: "left out" };
const PAGE = 25;

/** What a file holds: what would be taken, and a verdict on every row. */
export function ImportPreview({ preview, timeZone, session }: { preview: Preview; timeZone: string; session: OpenImport | null }) {
  const { counts, span, rates, faults, ignored, floors } = preview;
  const total = counts.new + counts.known + counts.wrong;
  const [shown, setShown] = useState<RowVerdict | "all">(counts.wrong > 0 ? "wrong" : "all");
  const options = [
    { value: "all" as const, word: `All ${total}` },
    ...(["new", "known", "wrong"] as const).map((value) => ({ value, word: `${counts[value]} ${verdictWord[value]}` })),
  ];
  const rows = shown === "all" ? total : counts[shown];
  if (faults.length > 0)
    return (
      <View role="alert" className="gap-1">
        {faults.map((fault) => (
          <Words key={fault.message} tone="text-broken">{`This file cannot be read: ${fault.message}.`}</Words>
        ))}
        <Words>Nothing was taken from it. Mend it and choose it again.</Words>
      </View>
    );
  return (
    <>
      <View>
        {span ? <Row label="Tests from">{`${dayNumberText(span.from, timeZone)} to ${dayNumberText(span.until, timeZone)}`}</Row> : null}
        {rates ? (
          <Row label="Least, middle, most">{`${rateText(rates.leastBps)}, ${rateText(rates.medianBps)}, ${rateText(rates.mostBps)}`}</Row>
        ) : null}
        {floors > 0 ? <Row label="Only lower limits">{String(floors)}</Row> : null}
        {ignored.length > 0 ? <Row label="Columns passed over">{ignored.join(", ")}</Row> : null}
      </View>
      <Choice label="Rows" value={shown} options={options} onChange={setShown} />
      {rows > 0 ? (
        <PagedList
          key={`${shown}${timeZone}${rows}`}
          label="Rows of the file"
          total={rows}
          pageSize={PAGE}
          rowHeight={64}
          renderPage={(page) => <Page session={session} shown={shown} page={page} timeZone={timeZone} stamp={JSON.stringify(counts)} />}
        />
      ) : null}
    </>
  );
}

function Page({
  session,
  shown,
  page,
  timeZone,
  stamp,
}: {
  session: OpenImport | null;
  shown: RowVerdict | "all";
  page: number;
  timeZone: string;
  stamp: string;
}) {
  // Kept by what the file held when it was read: another reading has other rows.
  const { data } = useSWR(["import rows", stamp, shown, page, timeZone], () => session?.page(shown, page * PAGE, PAGE) ?? [], {
    revalidateOnFocus: false,
    dedupingInterval: 0,
  });
  return (
    <>
      {data?.map((row) => (
        <Line key={row.line} row={row} timeZone={timeZone} />
      ))}
    </>
  );
}

function Line({ row, timeZone }: { row: PreviewRow; timeZone: string }) {
  const figures = row.takenAt && row.ownIpBps !== null ? `${dayNumberText(row.takenAt, timeZone)}, ${rateText(row.ownIpBps)}` : "not read";
  return (
    <View className="h-16 justify-center border-b border-rule">
      <View className="flex-row justify-between gap-2">
        <Text numberOfLines={1} className="shrink font-words text-base text-ink">{`${row.line}: ${figures}`}</Text>
        <Text
          className={`font-strong text-base ${row.verdict === "wrong" ? "text-broken" : row.verdict === "new" ? "text-deep" : "text-faded"}`}
        >
          {verdictWord[row.verdict]}
        </Text>
      </View>
      {row.words ? (
        <Text numberOfLines={2} className="font-words text-sm leading-4 text-faded">
          {row.words}
        </Text>
      ) : null}
    </View>
  );
}
