import X from "lucide-react-native/icons/x";
import type { ReactNode } from "react";
import { Modal, Pressable, ScrollView, View } from "react-native";
import { ThemeVariables, useTheme } from "../theme/ThemeProvider";
import { useWide } from "./useWide";
import { Words } from "./Words";

/** A sheet over the screen: from below on the phone, from the right when wide. Escape or the cross closes it. */
export function Overlay({ title, open, onClose, children }: { title: string; open: boolean; onClose: () => void; children: ReactNode }) {
  const wide = useWide();
  return (
    <Modal visible={open} transparent animationType="none" onRequestClose={onClose}>
      <ThemeVariables>
        <View className={`flex-1 bg-black/40 ${wide ? "items-end" : "justify-end"}`}>
          <Pressable aria-hidden tabIndex={-1} className="absolute inset-0" onPress={onClose} />
          <View
            role="dialog"
            aria-label={title}
            aria-modal
            className={`border-rule bg-paper ${wide ? "h-full w-[440px] border-l" : "max-h-[85%] w-full rounded-t-lg border-t"}`}
          >
            <View className="flex-row items-center justify-between border-b border-rule pl-4">
              <Words kind="heading" className="shrink">
                {title}
              </Words>
              <CloseButton onPress={onClose} />
            </View>
            <ScrollView contentContainerClassName="gap-3 p-4 pb-8">{children}</ScrollView>
          </View>
        </View>
      </ThemeVariables>
    </Modal>
  );
}

function CloseButton({ onPress }: { onPress: () => void }) {
  const { colour } = useTheme();
  return (
    <Pressable role="button" aria-label="Close" onPress={onPress} className="h-12 w-12 items-center justify-center">
      <X color={colour.ink} size={22} />
    </Pressable>
  );
}
