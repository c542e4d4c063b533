import { closestCenter, DndContext, type DragEndEvent, PointerSensor, useSensor, useSensors } from "@dnd-kit/core";
import { arrayMove, SortableContext, useSortable, verticalListSortingStrategy } from "@dnd-kit/sortable";
import { CSS } from "@dnd-kit/utilities";
import GripVertical from "lucide-react-native/icons/grip-vertical";
import { type ReactNode, useState } from "react";
import { Text, View } from "react-native";
import { useTheme } from "../theme/ThemeProvider";
import type { DragOrderProps } from "./DragOrder";

/** Things in an order of their own, dragged by a handle with a finger or the mouse; the arrow keys move by one place. */
export function DragOrder({ ids, nameOf, onOrder, disabled = false, children }: DragOrderProps) {
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 4 } }));
  const [said, setSaid] = useState("");
  const step = (id: string, by: number) => {
    const from = ids.indexOf(id);
    const to = from + by;
    if (to < 0 || to >= ids.length) return;
    setSaid(`${nameOf(id)} put at place ${to + 1} of ${ids.length}.`);
    onOrder(arrayMove(ids, from, to));
  };
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
        screenReaderInstructions: { draggable: "Drag it, or press the arrow keys up and down to move it by one place." },
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
            <One key={id} id={id} name={nameOf(id)} disabled={disabled} onStep={(by) => step(id, by)}>
              {(handle) => children(id, handle)}
            </One>
          ))}
        </View>
      </SortableContext>
      <View role="status" aria-live="polite" className="absolute h-px w-px overflow-hidden">
        <Text>{said}</Text>
      </View>
    </DndContext>
  );
}

interface OneProps {
  id: string;
  name: string;
  disabled: boolean;
  onStep: (by: number) => void;
  children: (handle: ReactNode) => ReactNode;
}

function One({ id, name, disabled, onStep, children }: OneProps) {
  const { colour } = useTheme();
  const { attributes, listeners, setNodeRef, setActivatorNodeRef, transform, transition, isDragging } = useSortable({ id });
  const still = window.matchMedia?.("(prefers-reduced-motion: reduce)").matches ?? false;
  const handle = disabled ? null : (
    <button
      ref={setActivatorNodeRef}
      type="button"
      {...attributes}
      {...listeners}
      onKeyDown={(press) => {
        if (press.key !== "ArrowUp" && press.key !== "ArrowDown") return;
        press.preventDefault();
        onStep(press.key === "ArrowUp" ? -1 : 1);
      }}
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
