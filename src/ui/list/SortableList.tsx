'use client';
import { DndContext, type DragEndEvent, KeyboardSensor, PointerSensor, useSensor, useSensors } from '@dnd-kit/core';
import {
  SortableContext,
  arrayMove,
  sortableKeyboardCoordinates,
  useSortable,
  verticalListSortingStrategy,
} from '@dnd-kit/sortable';
import { type ReactNode, useId } from 'react';

interface Props<T> {
  items: readonly T[];
  idOf(item: T): string;
  /** What is moved, for those who hear it: "Device". */
  nameOf(item: T): string;
  onOrder(items: T[]): void;
  children(item: T, index: number): ReactNode;
  label: string;
}

/** A list that is ordered by dragging, or with the keyboard: space on the grip, arrows, space. */
export function SortableList<T>({ items, idOf, nameOf, onOrder, children, label }: Props<T>) {
  const id = useId();
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const end = ({ active, over }: DragEndEvent): void => {
    const [from, to] = [active.id, over?.id].map((each) => items.findIndex((item) => idOf(item) === each));
    if (from !== undefined && to !== undefined && from >= 0 && to >= 0 && from !== to)
      onOrder(arrayMove([...items], from, to));
  };
  return (
    <DndContext id={id} sensors={sensors} onDragEnd={end}>
      <SortableContext items={items.map(idOf)} strategy={verticalListSortingStrategy}>
        <ol className="sortable" aria-label={label}>
          {items.map((item, i) => (
            <Row key={idOf(item)} id={idOf(item)} name={nameOf(item)}>
              {children(item, i)}
            </Row>
          ))}
        </ol>
      </SortableContext>
    </DndContext>
  );
}

function Row({ id, name, children }: { id: string; name: string; children: ReactNode }) {
  const { setNodeRef, attributes, listeners, transform, transition, isDragging } = useSortable({ id });
  return (
    <li
      ref={setNodeRef}
      className={isDragging ? 'moving' : undefined}
      style={{ transform: transform ? `translate(0, ${transform.y}px)` : undefined, transition }}
    >
      <button type="button" className="grip" {...attributes} {...listeners} aria-label={`Move ${name}`}>
        <svg viewBox="0 0 8 14" width="8" height="14" aria-hidden="true">
          {[2, 7, 12].flatMap((y) => [1.5, 6.5].map((x) => <circle key={`${x}${y}`} cx={x} cy={y} r="1.2" />))}
        </svg>
      </button>
      {children}
    </li>
  );
}
