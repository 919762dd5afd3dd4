import { useState, type DragEvent } from "react";

/** What an entry of a list needs to be dragged to another place. */
export interface Dragged {
  onDragStart: (event: DragEvent) => void;
  onDragOver: (event: DragEvent) => void;
  onDrop: (event: DragEvent) => void;
  /** Another entry is held over it. */
  over: boolean;
}

/** A list put in order by dragging: `onMove` is told who is dropped on which index. */
export function useDragOrder(onMove: (id: string, to: number) => void) {
  const [dragged, setDragged] = useState<string | null>(null);
  const [over, setOver] = useState<string | null>(null);
  const end = () => {
    setDragged(null);
    setOver(null);
  };
  const of = (id: string, index: number): Dragged => ({
    onDragStart: (event) => {
      event.dataTransfer.setData("text/plain", id);
      event.dataTransfer.effectAllowed = "move";
      setDragged(id);
    },
    onDragOver: (event) => {
      if (dragged === null) return;
      event.preventDefault();
      setOver(id);
    },
    onDrop: (event) => {
      event.preventDefault();
      end();
      if (dragged !== null && dragged !== id) onMove(dragged, index);
    },
    over: over === id && dragged !== null && dragged !== id,
  });
  return { of, end };
}
