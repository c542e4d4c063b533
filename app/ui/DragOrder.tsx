import type { ReactNode } from "react";
import { View } from "react-native";

export interface DragOrderProps {
  ids: string[];
  /** What one is called, for its handle. */
  nameOf: (id: string) => string;
  onOrder: (ids: string[]) => void;
  disabled?: boolean;
  /** Draws one, with the handle that it is dragged by; null: it cannot be dragged here. */
  children: (id: string, handle: ReactNode) => ReactNode;
}

/** Things in an order of their own. Dragging is the web's; elsewhere they have their buttons. */
export function DragOrder({ ids, children }: DragOrderProps) {
  return (
    <View role="list" className="gap-3">
      {ids.map((id) => (
        <View key={id} role="listitem">
          {children(id, null)}
        </View>
      ))}
    </View>
  );
}
