import { closestCenter, DndContext, type DragEndEvent, KeyboardSensor, PointerSensor, useSensor, useSensors } from "@dnd-kit/core";
import { arrayMove, SortableContext, sortableKeyboardCoordinates, useSortable, verticalListSortingStrategy } from "@dnd-kit/sortable";
import { CSS } from "@dnd-kit/utilities";
import GripVertical from "lucide-react-native/icons/grip-vertical";
import type { ReactNode } from "react";
import { View } from "react-native";
import { useTheme } from "../theme/ThemeProvider";
import type { DragOrderProps } from "./DragOrder";

/** Things in an order of their own, dragged by a handle: with a finger, the mouse, or Space and the arrow keys. */
export function DragOrder({ ids, nameOf, onOrder, disabled = false, children }: DragOrderProps) {
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const end = ({ active, over }: DragEndEvent) => {
    if (!over || over.id === active.id) return;
    onOrder(arrayMove(ids, ids.indexOf(String(active.id)), ids.indexOf(String(over.id))));
  };
  const say = (id: string | number) => nameOf(String(id));
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={closestCenter}
      onDragEnd={end}
      accessibility={{
        announcements: {
          onDragStart: ({ active }) => `${say(active.id)} taken up.`,
          onDragOver: ({ active, over }) =>
            over ? `${say(active.id)} is at place ${ids.indexOf(String(over.id)) + 1} of ${ids.length}.` : "",
          onDragEnd: ({ active, over }) => (over ? `${say(active.id)} put at place ${ids.indexOf(String(over.id)) + 1}.` : ""),
          onDragCancel: ({ active }) => `${say(active.id)} put back.`,
        },
      }}
    >
      <SortableContext items={ids} strategy={verticalListSortingStrategy} disabled={disabled}>
        <View role="list" className="gap-3">
          {ids.map((id) => (
            <One key={id} id={id} name={nameOf(id)} disabled={disabled}>
              {(handle) => children(id, handle)}
            </One>
          ))}
        </View>
      </SortableContext>
    </DndContext>
  );
}

function One({
  id,
  name,
  disabled,
  children,
}: {
  id: string;
  name: string;
  disabled: boolean;
  children: (handle: ReactNode) => ReactNode;
}) {
  const { colour } = useTheme();
  const { attributes, listeners, setNodeRef, setActivatorNodeRef, transform, transition, isDragging } = useSortable({ id });
  const still = window.matchMedia?.("(prefers-reduced-motion: reduce)").matches ?? false;
  const handle = disabled ? null : (
    <button
      ref={setActivatorNodeRef}
      type="button"
      {...attributes}
      {...listeners}
      aria-label={`Move ${name}`}
      style={{ width: 44, height: 44, touchAction: "none", cursor: "grab", background: "none", border: "none", padding: 10 }}
    >
      <GripVertical color={colour.faded} size={22} />
    </button>
  );
  return (
    <div
      ref={setNodeRef}
      role="listitem"
      style={{
        transform: CSS.Translate.toString(transform),
        ...(still || !transition ? {} : { transition }),
        position: "relative",
        zIndex: isDragging ? 2 : 0,
      }}
    >
      {children(handle)}
    </div>
  );
}
