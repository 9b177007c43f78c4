interface Props {
  id?: string;
  /** Which column, in a row of several. */
  head?: string;
  /** What stands now. */
  value: string;
  /** What was typed here. */
  typed: string;
  onMine: () => void;
  onTheirs: () => void;
}

/** Another window was first: what it put here, what was typed here, and both ways on. */
export function Outdone({ id, head, value, typed, onMine, onTheirs }: Props) {
  return (
    <p id={id} role="alert" className="mt-1 text-plain text-madder">
      {head && <strong>{head}: </strong>}
      Another window put <strong>{value || "nothing"}</strong> here meanwhile. You typed{" "}
      <strong>{typed || "nothing"}</strong>.
      <button type="button" className="quiet ml-3" onMouseDown={(e) => e.preventDefault()} onClick={onMine}>
        put mine in
      </button>
      <button type="button" className="quiet ml-3" onMouseDown={(e) => e.preventDefault()} onClick={onTheirs}>
        leave it
      </button>
    </p>
  );
}
