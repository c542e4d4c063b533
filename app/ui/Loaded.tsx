import type { ReactNode } from "react";
import { ActivityIndicator, View } from "react-native";
import type { ApiError } from "../data/api";
import { useTheme } from "../theme/ThemeProvider";
import { ProblemNote } from "./Problem";
import { Words } from "./Words";

/** What is read, once it is there; until then that it is on its way, or why it is not. Old data stays under an error. */
export function Loaded<T>({
  state,
  children,
}: {
  state: { data: T | undefined; error: ApiError | undefined };
  children: (data: T) => ReactNode;
}) {
  const { colour } = useTheme();
  return (
    <>
      <ProblemNote error={state.error ?? null} />
      {state.data !== undefined ? (
        children(state.data)
      ) : state.error ? null : (
        <View className="flex-row items-center gap-3 p-4">
          <ActivityIndicator color={colour.deep} aria-label="Reading" />
          <Words kind="faded">Reading…</Words>
        </View>
      )}
    </>
  );
}
