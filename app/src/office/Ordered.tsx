/** Lines that are put in order by their handles. Only for hands: the buttons beside them do the same for keys. */
import { closestCenter, DndContext, type DragEndEvent, PointerSensor, useSensor, useSensors } from '@dnd-kit/core';
import { SortableContext, useSortable, verticalListSortingStrategy } from '@dnd-kit/sortable';
import { colour, space } from '@under-lock/ui';
import { type CSSProperties, type ReactNode } from 'react';

interface Props {
  ids: readonly string[];
  onMove: (from: number, to: number) => void;
  children: ReactNode;
}

/** So far a press may slip and is still no drag. */
const SLIP = 4; // CSS pixels

export function Ordered({ ids, onMove, children }: Props) {
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: SLIP } }));
  const drop = ({ active, over }: DragEndEvent): void => {
    const [from, to] = [ids.indexOf(String(active.id)), over === null ? -1 : ids.indexOf(String(over.id))];
    if (to !== -1 && from !== to) onMove(from, to);
  };
  return (
    <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={drop}>
      <SortableContext items={[...ids]} strategy={verticalListSortingStrategy}>
        {children}
      </SortableContext>
    </DndContext>
  );
}

/** One of them; its handle comes first. */
export function OrderedLine({ id, children }: { id: string; children: ReactNode }) {
  const { listeners, setNodeRef, setActivatorNodeRef, transform, transition, isDragging } = useSortable({ id });
  const line: CSSProperties = {
    ...styles.line,
    ...(transform === null ? {} : { transform: `translate3d(0, ${Math.round(transform.y)}px, 0)` }),
    ...(transition === undefined ? {} : { transition }),
    ...(isDragging ? styles.lifted : {}),
  };
  return (
    <div ref={setNodeRef} style={line}>
      <span ref={setActivatorNodeRef} {...listeners} aria-hidden data-handle={id} style={styles.handle}>
        ⠿
      </span>
      <div style={styles.rest}>{children}</div>
    </div>
  );
}

const styles = {
  line: { display: 'flex', position: 'relative', backgroundColor: colour.paper },
  lifted: { zIndex: 1, outline: `2px solid ${colour.sea}`, outlineOffset: -2 },
  handle: {
    display: 'flex',
    width: space.touch,
    flex: 'none',
    paddingTop: space.m,
    justifyContent: 'center',
    color: colour.soft,
    fontSize: 20,
    cursor: 'grab',
    touchAction: 'none',
    userSelect: 'none',
  },
  rest: { flex: 1, minWidth: 0 },
} as const;
