import type { ReactElement } from "react";
import { FlatList, View } from "react-native";

const MOST_HEIGHT = 540;

/** A long list of rows of one height, of which only the pages near the screen are made. It scrolls in a box of its own. */
export function PagedList({
  label,
  total,
  pageSize,
  rowHeight,
  renderPage,
}: {
  label: string;
  total: number;
  pageSize: number;
  rowHeight: number;
  renderPage: (page: number) => ReactElement;
}) {
  const pages = Math.ceil(total / pageSize);
  const rowsOn = (page: number) => Math.min(pageSize, total - page * pageSize);
  const pageHeight = pageSize * rowHeight;
  return (
    <FlatList
      role="region"
      aria-label={label}
      tabIndex={0}
      style={{ height: Math.min(MOST_HEIGHT, total * rowHeight), flexGrow: 0 }}
      data={Array.from({ length: pages }, (_, page) => page)}
      keyExtractor={String}
      getItemLayout={(_data, index) => ({ length: rowsOn(index) * rowHeight, offset: index * pageHeight, index })}
      initialNumToRender={1}
      windowSize={3}
      maxToRenderPerBatch={2}
      renderItem={({ item }) => <View style={{ height: rowsOn(item) * rowHeight }}>{renderPage(item)}</View>}
    />
  );
}
