import { DropdownMenu } from "radix-ui";
import type { RefObject } from "react";
import type { Column } from "./columns";
import type { GridView } from "./useGridView";

interface Props<Row> {
  label: string;
  view: GridView;
  columns: Column<Row>[];
  shown: number;
  of: number;
  field: RefObject<HTMLInputElement | null>;
  onLeave: () => void;
}

const ITEM = "flex cursor-default items-center gap-2 px-3 py-1 outline-none data-[highlighted]:bg-wash";

/** Above a list: what is sought in it, which columns it shows, what it is grouped by. */
export function GridBar<Row>({ label, view, columns, shown, of, field, onLeave }: Props<Row>) {
  const { kept, sought, setSought, show, orderBy, groupBy } = view;
  return (
    <div className="mb-1 flex items-baseline justify-end gap-4 text-plain text-second">
      {sought.trim() !== "" && (
        <span role="status">
          {shown} of {of}
        </span>
      )}
      <label className="flex items-baseline gap-2">
        <span className="sr-only">Filter {label}</span>
        <input
          ref={field}
          className="inkbox w-40 py-0.5 text-plain"
          placeholder="filter  /"
          value={sought}
          onChange={(e) => setSought(e.target.value)}
          onKeyDown={(e) => {
            if (e.key === "Escape") setSought("");
            if (e.key === "Escape" || e.key === "Enter" || e.key === "ArrowDown") {
              e.preventDefault();
              e.stopPropagation();
              onLeave();
            }
          }}
        />
      </label>
      <DropdownMenu.Root modal={false}>
        <DropdownMenu.Trigger className="quiet">columns</DropdownMenu.Trigger>
        <DropdownMenu.Portal>
          <DropdownMenu.Content
            align="end"
            className="z-40 max-h-[70vh] overflow-auto border border-ink bg-sheet py-2 text-plain"
          >
            <DropdownMenu.Label className="px-3 pb-1 text-fine text-second">shown</DropdownMenu.Label>
            {columns.map((c) => (
              <DropdownMenu.CheckboxItem
                key={c.key}
                className={ITEM}
                checked={!kept.hidden.includes(c.key)}
                onCheckedChange={(put) => show(c.key, put)}
                onSelect={(e) => e.preventDefault()}
              >
                <span aria-hidden="true" className="w-3">
                  {kept.hidden.includes(c.key) ? "" : "✓"}
                </span>
                {c.head || c.key}
              </DropdownMenu.CheckboxItem>
            ))}
            <OneOf
              title="in the order of"
              none="as stated"
              columns={columns}
              value={kept.sort?.key ?? ""}
              onChoose={(key) => orderBy(key || null)}
            />
            <OneOf
              title="grouped by"
              none="nothing"
              columns={columns}
              value={kept.group ?? ""}
              onChoose={(key) => groupBy(key || null)}
            />
          </DropdownMenu.Content>
        </DropdownMenu.Portal>
      </DropdownMenu.Root>
    </div>
  );
}

interface OneOfProps<Row> {
  title: string;
  none: string;
  columns: Column<Row>[];
  value: string;
  onChoose: (key: string) => void;
}

/** One column out of all, or none. */
function OneOf<Row>({ title, none, columns, value, onChoose }: OneOfProps<Row>) {
  return (
    <>
      <DropdownMenu.Label className="mt-2 border-t border-rule px-3 pb-1 pt-2 text-fine text-second">
        {title}
      </DropdownMenu.Label>
      <DropdownMenu.RadioGroup value={value} onValueChange={onChoose}>
        {[{ key: "", head: none }, ...columns].map((c) => (
          <DropdownMenu.RadioItem key={c.key} value={c.key} className={ITEM} onSelect={(e) => e.preventDefault()}>
            <span aria-hidden="true" className="w-3">
              {value === c.key ? "•" : ""}
            </span>
            {c.head || c.key}
          </DropdownMenu.RadioItem>
        ))}
      </DropdownMenu.RadioGroup>
    </>
  );
}
