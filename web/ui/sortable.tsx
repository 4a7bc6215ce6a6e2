import {
  DndContext,
  KeyboardSensor,
  PointerSensor,
  useSensor,
  useSensors,
  type CollisionDetection,
  type DragEndEvent,
} from '@dnd-kit/core';
import {
  SortableContext,
  sortableKeyboardCoordinates,
  useSortable,
  verticalListSortingStrategy,
} from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { GripVertical } from 'lucide-react';
import type { ReactNode } from 'react';

/** A small square button with an icon alone, in the rows of a list. */
export const ICON_BUTTON =
  'inline-flex h-6 w-6 cursor-pointer items-center justify-center border border-transparent hover:border-ink/50 hover:bg-accent-soft';

/** The row whose upper edge is nearest: rows that are open are far taller than others, and their middles far away. */
const nearestTop: CollisionDetection = ({ collisionRect, droppableRects, droppableContainers }) =>
  droppableContainers
    .flatMap((droppableContainer) => {
      const rect = droppableRects.get(droppableContainer.id);
      const value = rect && Math.abs(rect.top - collisionRect.top);
      return value === undefined ? [] : [{ id: droppableContainer.id, data: { droppableContainer, value } }];
    })
    .sort((a, b) => a.data.value - b.data.value);

interface SortableListProps {
  readonly ids: readonly string[];
  readonly testId: string;
  readonly onMove: (id: string, to: number) => void;
  /** A `SortableRow` for each id. */
  readonly children: ReactNode;
}

/** A numbered list whose rows are put in another order by dragging, or by the keyboard. */
export function SortableList({ ids, testId, onMove, children }: SortableListProps) {
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const onDragEnd = ({ active, over }: DragEndEvent) => {
    if (over === null || active.id === over.id) return;
    onMove(String(active.id), ids.indexOf(String(over.id)));
  };
  const place = (id: string | number | undefined): string =>
    `Place ${String(ids.indexOf(String(id ?? '')) + 1)} of ${String(ids.length)}.`;
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={nearestTop}
      accessibility={{
        announcements: {
          onDragStart: ({ active }) => `Picked up. ${place(active.id)}`,
          onDragOver: ({ active, over }) => place(over?.id ?? active.id),
          onDragEnd: ({ active, over }) => `Put down. ${place(over?.id ?? active.id)}`,
          onDragCancel: ({ active }) => `Left where it was. ${place(active.id)}`,
        },
      }}
      onDragEnd={onDragEnd}
    >
      <SortableContext items={[...ids]} strategy={verticalListSortingStrategy}>
        <ol data-testid={testId}>{children}</ol>
      </SortableContext>
    </DndContext>
  );
}

interface SortableRowProps {
  readonly id: string;
  /** What is moved: "step 2". */
  readonly name: string;
  readonly open: boolean;
  readonly faint?: boolean;
  /** Beside the handle. */
  readonly head: ReactNode;
  /** Below it, where the row is open. */
  readonly children?: ReactNode;
}

/** A row of a `SortableList`, with the handle that it is dragged by. */
export function SortableRow({ id, name, open, faint = false, head, children }: SortableRowProps) {
  const { attributes, listeners, setNodeRef, transform, transition, isDragging } = useSortable({ id });
  return (
    <li
      ref={setNodeRef}
      style={{ transform: CSS.Translate.toString(transform), transition }}
      className={`border-b border-rule ${isDragging ? 'relative z-10 bg-accent-soft' : 'bg-paper'} ${open ? 'border-l-4 border-l-accent' : 'border-l-4 border-l-transparent'} ${faint ? 'opacity-45' : ''}`}
    >
      <div className="flex items-start gap-1 py-1 pr-1">
        <button
          type="button"
          className={`${ICON_BUTTON} mt-0.5 shrink-0 touch-none`}
          aria-label={`Move ${name}`}
          {...attributes}
          {...listeners}
        >
          <GripVertical size={14} aria-hidden />
        </button>
        {head}
      </div>
      {open && <div className="pr-2 pb-3 pl-8">{children}</div>}
    </li>
  );
}
