'use client';
import { DndContext, type DragEndEvent, PointerSensor, useSensor, useSensors } from '@dnd-kit/core';
import { SortableContext, arrayMove, useSortable, verticalListSortingStrategy } from '@dnd-kit/sortable';
import { type KeyboardEvent, type ReactNode, useId, useState } from 'react';

interface Props<T> {
  items: readonly T[];
  idOf(item: T): string;
  /** What is moved, for those who hear it: "Device". */
  nameOf(item: T): string;
  onOrder(items: T[]): void;
  children(item: T, index: number): ReactNode;
  label: string;
}

/** A list that is ordered by dragging its grips, or by the arrow keys on them. */
export function SortableList<T>({ items, idOf, nameOf, onOrder, children, label }: Props<T>) {
  const id = useId();
  const [said, setSaid] = useState('');
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 4 } }));
  const move = (from: number, to: number): void => {
    const item = items[from];
    if (from === to || item === undefined || to < 0 || to >= items.length) return;
    onOrder(arrayMove([...items], from, to));
    setSaid(`${nameOf(item)}: ${to + 1} of ${items.length}`);
  };
  const end = ({ active, over }: DragEndEvent): void => {
    const [from = -1, to = -1] = [active.id, over?.id].map((each) => items.findIndex((item) => idOf(item) === each));
    move(from, to);
  };
  return (
    <DndContext id={id} sensors={sensors} onDragEnd={end}>
      <SortableContext items={items.map(idOf)} strategy={verticalListSortingStrategy}>
        <ol className="sortable" aria-label={label}>
          {items.map((item, i) => (
            <Row key={idOf(item)} id={idOf(item)} name={nameOf(item)} onStep={(step) => move(i, i + step)}>
              {children(item, i)}
            </Row>
          ))}
        </ol>
      </SortableContext>
      <span className="skip" role="status">
        {said}
      </span>
    </DndContext>
  );
}

function Row({
  id,
  name,
  onStep,
  children,
}: {
  id: string;
  name: string;
  onStep(step: -1 | 1): void;
  children: ReactNode;
}) {
  const { setNodeRef, listeners, transform, transition, isDragging } = useSortable({ id });
  const onKeyDown = (event: KeyboardEvent): void => {
    const step = event.key === 'ArrowUp' ? -1 : event.key === 'ArrowDown' ? 1 : undefined;
    if (!step) return;
    event.preventDefault();
    onStep(step);
  };
  return (
    <li
      ref={setNodeRef}
      className={isDragging ? 'moving' : undefined}
      style={{ transform: transform ? `translate(0, ${transform.y}px)` : undefined, transition }}
    >
      <button
        type="button"
        className="grip"
        {...listeners}
        onKeyDown={onKeyDown}
        aria-label={`Move ${name}`}
        title="Drag it, or press ↑ or ↓"
      >
        <svg viewBox="0 0 8 14" width="8" height="14" aria-hidden="true">
          {[2, 7, 12].flatMap((y) => [1.5, 6.5].map((x) => <circle key={`${x}${y}`} cx={x} cy={y} r="1.2" />))}
        </svg>
      </button>
      {children}
    </li>
  );
}
