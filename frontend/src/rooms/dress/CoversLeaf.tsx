import { useMemo } from "react";
import { pointer } from "../../api/client";
import type { BranchCover, DressSheet } from "../../api/dress";
import { useActs, useDesign } from "../../api/design";
import { COVER_KINDS } from "../../api/values";
import type { Column } from "../../components/columns";
import { Grid } from "../../components/Grid";
import { fine, length, lengthUnit, nextOrder, unitsOf } from "../../format";
import { RunDrawing } from "./RunDrawing";

interface Props {
  sheet: DressSheet;
  chosen: string | null;
  onChoose: (branch: string) => void;
}

interface Row {
  branch: string;
  cover: BranchCover;
  /** Its first branch in the piece has the figures; the others say so. */
  first: boolean;
}

const BY_RULE = "by the house rule";

/** Every branch: what goes over it, how long that is cut, when it goes on and why. */
export function CoversLeaf({ sheet, chosen, onChoose }: Props) {
  const { design } = useDesign();
  const { edit } = useActs();
  const { document, evaluation } = design;
  const units = unitsOf(document);
  const wishes = document.dress.covers;
  const rows = useMemo(() => rowsOf(sheet), [sheet]);
  const columns = useMemo<Column<Row>[]>(() => {
    const put = (branch: string, key: "kind" | "part", value: string | null) => {
      const at = pointer("dress", "covers", branch);
      return edit(
        [
          wishes[branch]
            ? { op: "replace", path: `${at}/${key}`, value }
            : { op: "add", path: at, value: { order: nextOrder(wishes), [key]: value } },
        ],
        `${branch} cover`,
      );
    };
    const again = (row: Row) => !row.first;
    return [
      {
        key: "branch",
        head: "Branch",
        width: "64px",
        figures: true,
        text: (r) => r.branch,
        show: (r) => <strong>{r.branch}</strong>,
      },
      {
        key: "holds",
        head: "Holds",
        width: "74px",
        text: (r) => `${evaluation.route.branches[r.branch]?.wires ?? 0} wires`,
      },
      {
        key: "thick",
        head: "Tight · loose",
        width: "112px",
        align: "right",
        figures: true,
        unit: lengthUnit(units),
        text: (r) => {
          const bundle = evaluation.dress.bundles[r.branch];
          return bundle ? `${fine(bundle.tight_mm, units)} · ${fine(bundle.loose_mm, units)}` : "";
        },
      },
      {
        key: "kind",
        head: "Cover",
        width: "104px",
        text: (r) => (r.cover.kind === "none" ? "bare" : r.cover.kind),
        choices: () => [
          { value: "", label: BY_RULE },
          ...COVER_KINDS.map((value) => ({ value, label: value === "none" ? "bare" : value })),
        ],
        commit: (r, typed) => put(r.branch, "kind", typed === "" || typed === BY_RULE ? null : typed),
      },
      {
        key: "part",
        head: "Size",
        width: "84px",
        figures: true,
        text: (r) => r.cover.code,
        title: (r) => r.cover.description,
        show: (r) => (
          <span className={r.cover.fits ? (wishes[r.branch]?.part ? "" : "text-second") : "text-madder"}>
            {r.cover.code || "–"}
          </span>
        ),
        commit: (r, typed) => put(r.branch, "part", typed.trim() === "" ? null : typed.trim().toUpperCase()),
      },
      {
        key: "cut",
        head: "Cut",
        width: "92px",
        align: "right",
        figures: true,
        unit: lengthUnit(units),
        strong: true,
        text: (r) => (again(r) ? "" : r.cover.cut_mm ? length(r.cover.cut_mm, units) : "–"),
        title: (r) => `covers ${length(r.cover.covers_mm, units)}`,
      },
      {
        key: "on",
        head: "Goes on",
        width: "minmax(74px,1fr)",
        text: (r) => (again(r) ? `with ${r.cover.branches[0] ?? ""}, one piece` : r.cover.goes_on || "–"),
      },
      {
        key: "because",
        head: "Because",
        width: "minmax(74px,1.2fr)",
        small: true,
        text: (r) => r.cover.because,
        title: (r) => r.cover.because,
      },
    ];
  }, [edit, evaluation, units, wishes]);
  return (
    <>
      {chosen && <RunDrawing sheet={sheet} branch={chosen} onChoose={onChoose} />}
      <Grid
        label="Covers"
        rows={rows}
        columns={columns}
        rowKey={(r) => r.branch}
        selected={chosen}
        onSelect={(r) => onChoose(r.branch)}
        empty="No branch yet."
      />
    </>
  );
}

function rowsOf(sheet: DressSheet): Row[] {
  return sheet.covers.flatMap((cover) => cover.branches.map((branch, n) => ({ branch, cover, first: n === 0 })));
}
