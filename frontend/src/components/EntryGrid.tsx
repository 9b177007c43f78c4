import { useMemo } from "react";
import { pointer, type Problem } from "../api/client";
import { useDesign, useActs } from "../api/design";
import { inOrder, unitsOf } from "../format";
import { headUnit, sent, shown, YES_NO, type Entry, type FieldSpec } from "./fields";
import { bareText, type Column } from "./columns";
import { Grid } from "./Grid";

export type EntryRow = [string, Entry & { order: number }];

interface Props {
  label: string;
  /** Where the collection lies in the document. */
  at: string[];
  entries: Record<string, object & { order: number }>;
  specs: FieldSpec[];
  /** Heads the column of ids; no such column where absent. */
  idHead?: string;
  onNew?: { prompt: string; commit: (typed: string) => Promise<Problem | null> };
  onDelete?: (id: string) => void;
  chosen?: string | null;
  onChoose?: (id: string) => void;
  empty?: string;
  /** Columns that are worked out, behind the stated ones. */
  derived?: Column<EntryRow>[];
}

/** What has an id that can be renamed wherever it is named. */
const RENAMED = new Set(["devices", "connectors", "points", "circuits", "branches", "zones"]);

/** A collection of the document as a grid: one row an entry, one column a stated field. */
export function EntryGrid({
  label,
  at,
  entries,
  specs,
  idHead,
  onNew,
  onDelete,
  chosen,
  onChoose,
  empty,
  derived,
}: Props) {
  const { design } = useDesign();
  const { edit, act, doIt } = useActs();
  const units = unitsOf(design.document);
  const where = at.join("/");
  const kind = at.at(-1) ?? "";
  const renamed = RENAMED.has(kind);
  const columns = useMemo<Column<EntryRow>[]>(
    () => [
      ...(idHead
        ? [
            {
              key: "id",
              head: idHead,
              width: "76px",
              figures: true,
              text: ([id]: EntryRow) => id,
              show: ([id]: EntryRow) => <strong>{id}</strong>,
              ...(renamed
                ? {
                    title: () => "its id; renamed everywhere",
                    needed: true,
                    commit: ([id]: EntryRow, typed: string) => act("rename", typed, `${kind}/${id}`),
                  }
                : {}),
            },
          ]
        : []),
      ...specs.map<Column<EntryRow>>((spec) => ({
        key: spec.key,
        head: spec.label,
        width: spec.width ?? (spec.kind === "figure" ? "88px" : "minmax(90px,1fr)"),
        figures: spec.kind === "figure" || spec.kind === "list",
        ...(spec.kind === "figure" ? { align: "right" as const } : {}),
        ...headUnit(spec, units),
        text: ([, e]) => shown(spec, e, units),
        ...(spec.hint ? { title: () => spec.hint ?? "" } : {}),
        ...(spec.empty
          ? {
              show: ([, e]: EntryRow) =>
                bareText(shown(spec, e, units), headUnit(spec, units).unit) || (
                  <span className="text-second">{spec.empty}</span>
                ),
            }
          : {}),
        ...(spec.kind === "choice" || spec.kind === "flag"
          ? {
              choices: () =>
                spec.kind === "flag"
                  ? YES_NO
                  : [...(spec.empty === undefined ? [] : [{ value: "", label: spec.empty }]), ...(spec.choices ?? [])],
            }
          : {}),
        commit: ([id, e], typed) =>
          edit(
            [
              {
                op: spec.key in e ? "replace" : "add",
                path: pointer(...where.split("/"), id, spec.key),
                value: sent(spec, typed),
              },
            ],
            `${id} ${spec.label}`,
          ),
      })),
      ...(derived ?? []),
    ],
    [act, derived, edit, idHead, kind, renamed, specs, units, where],
  );
  return (
    <Grid
      label={label}
      rows={inOrder(entries) as EntryRow[]}
      columns={columns}
      rowKey={([id]) => id}
      selected={chosen ?? null}
      onDelete={([id]) =>
        onDelete ? onDelete(id) : void doIt([{ op: "remove", path: pointer(...at, id) }], `take out ${id}`)
      }
      {...(onChoose ? { onSelect: ([id]: EntryRow) => onChoose(id) } : {})}
      {...(onNew ? { onNew } : {})}
      {...(empty ? { empty } : {})}
    />
  );
}
