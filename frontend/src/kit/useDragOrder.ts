import { useRef, useState, type DragEvent, type PointerEvent } from "react";

/** What is dragged or clicked for itself. */
const TAKEN = "button, a, input, [role=spinbutton], [role=slider]";

/** What an entry of a list needs to be dragged to another place. */
export interface Dragged {
  /** For a whole card: it is taken anywhere but at what has a drag or a click of its own. */
  grip: {
    draggable: true;
    onPointerDown: (event: PointerEvent) => void;
    onDragStart: (event: DragEvent) => void;
  };
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
  const own = useRef(false);
  const begin = (id: string, event: DragEvent) => {
    event.dataTransfer.setData("text/plain", id);
    event.dataTransfer.effectAllowed = "move";
    setDragged(id);
  };
  const of = (id: string, index: number): Dragged => ({
    grip: {
      draggable: true,
      onPointerDown: (event) => {
        own.current = event.target instanceof Element && event.target.closest(TAKEN) !== null;
      },
      onDragStart: (event) => {
        if (own.current) event.preventDefault();
        else begin(id, event);
      },
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
