import { useMemo } from "react";
import { useParams, useSearchParams } from "react-router";
import { MEASURED } from "../../api/values";
import { pointer, type Evaluation, type HarnessDocument } from "../../api/client";
import { useDesign, useActs, useWhy } from "../../api/design";
import { EntryGrid, type EntryRow } from "../../components/EntryGrid";
import type { Column } from "../../components/columns";
import { Grid } from "../../components/Grid";
import { Leaves } from "../../components/Leaves";
import { Room } from "../../components/Room";
import { TypedLine } from "../../components/TypedLine";
import { inOrder, length, lengthUnit, otherLength, unitsOf } from "../../format";
import { BranchCard } from "./BranchCard";
import { RouteDrawing } from "./RouteDrawing";
import { pointFields } from "./specs";
import { LEAVES } from "../../components/leaves";

type Branch = [string, HarnessDocument["route"]["branches"][string]];

/** Where the harness runs: typed as measured, drawn to scale. */
export function RouteRoom() {
  const { leaf = "" } = useParams();
  const { design } = useDesign();
  const { act } = useActs();
  const [query, setQuery] = useSearchParams();
  const chosen = query.get("branch");
  const setChosen = (branch: string) => setQuery({ branch }, { replace: true });
  const branches = design.document.route.branches;
  const open = chosen && branches[chosen] ? chosen : null;
  const any = Object.keys(design.document.route.points).length > 0;
  return (
    <Room room="route" title="Route" beside={open && !leaf ? <BranchCard key={open} branch={open} /> : undefined}>
      {any && <Leaves room="route" leaves={LEAVES.route} />}
      {any && <RouteDrawing chosen={open} onChoose={setChosen} />}
      {!leaf && (
        <TypedLine
          label="add"
          act="run"
          example="B1 180 > tail 310 > P13 rain lamp"
          onCommit={(text) => act("run", text)}
        />
      )}
      {!any && (
        <p className="mb-3 max-w-[72ch] border-l-[3px] border-madder pl-4">
          A point, how far, the next point. A point named as a device takes that device's connector:{" "}
          <span className="font-figures">B1 180 &gt; tail 5 ft 3 &gt; M1</span>. Any other name is a place where
          branches part.
        </p>
      )}
      {leaf === "points" ? (
        <Points />
      ) : leaf === "splices" ? (
        <Splices />
      ) : (
        <Branches chosen={open} onChoose={setChosen} />
      )}
    </Room>
  );
}

/** Every point: what it is, the hole it passes, the slack kept at it. */
function Points() {
  const { design } = useDesign();
  const { actNow } = useActs();
  const { document, evaluation } = design;
  const units = unitsOf(document);
  const specs = useMemo(
    () => pointFields(inOrder(document.brief.zones).map(([z, x]) => ({ value: z, label: x.name }))),
    [document.brief.zones],
  );
  const derived = useMemo<Column<EntryRow>[]>(
    () => [
      {
        key: "here",
        head: "Lies there",
        width: "minmax(90px,1fr)",
        figures: true,
        text: ([id]) =>
          Object.entries(document.ends.connectors)
            .filter(([, c]) => c.point === id)
            .map(([c]) => c)
            .join(" "),
      },
      {
        key: "station",
        head: "Station",
        unit: lengthUnit(units),
        width: "84px",
        align: "right",
        figures: true,
        text: ([id]) => {
          const station = evaluation.route.points[id]?.station_mm;
          return typeof station === "number" ? length(station, units) : "–";
        },
      },
    ],
    [document, evaluation, units],
  );
  return (
    <div className="mt-4">
      <EntryGrid
        label="Points"
        at={["route", "points"]}
        entries={document.route.points}
        idHead="Point"
        specs={specs}
        derived={derived}
        onDelete={(id) => void actNow("merge_point", id)}
        empty="No point yet."
      />
      <p className="mt-2 text-plain text-second">
        <kbd>Ctrl Delete</kbd> on a point between two branches makes one branch of them.
      </p>
    </div>
  );
}

type Splice = [string, Evaluation["route"]["splices"][string]];

/** Every splice, where to mark it on the bench, and what comes together in it. */
function Splices() {
  const { design } = useDesign();
  const { document, evaluation } = design;
  const units = unitsOf(document);
  const rows = Object.entries(evaluation.route.splices);
  const columns = useMemo<Column<Splice>[]>(() => {
    const name = (p: string) => document.route.points[p]?.name || p;
    const joined = (id: string) => evaluation.ends.splices[id]?.wires ?? [];
    return [
      {
        key: "circuit",
        head: "Circuit",
        width: "76px",
        figures: true,
        text: ([, s]) => s.circuit,
        show: ([, s]) => <strong>{s.circuit}</strong>,
      },
      {
        key: "name",
        head: "Joins",
        width: "minmax(120px,1fr)",
        text: ([, s]) => document.circuits.circuits[s.circuit]?.name ?? "",
      },
      {
        key: "mark",
        head: "Mark it",
        width: "minmax(200px,1.4fr)",
        text: ([, s]) =>
          s.offset_mm
            ? `${length(s.offset_mm, units)} from ${name(s.point)}, along ${s.branch ?? ""}`
            : `at ${name(s.point)}`,
      },
      {
        key: "wires",
        head: "Wires",
        width: "minmax(200px,2fr)",
        figures: true,
        small: true,
        text: ([id]) =>
          joined(id)
            .map((w) => evaluation.wire.wires[w]?.label ?? w)
            .join(" "),
        title: ([id]) =>
          joined(id)
            .map((w) => `${evaluation.wire.wires[w]?.label ?? w} ${evaluation.wire.wires[w]?.gauge ?? ""}`)
            .join(", "),
      },
      {
        key: "part",
        head: "Part",
        width: "110px",
        figures: true,
        text: ([id]) => evaluation.ends.splices[id]?.part ?? "block",
      },
    ];
  }, [document, evaluation, units]);
  return (
    <div className="mt-4">
      <Grid
        label="Splices"
        rows={rows}
        columns={columns}
        rowKey={([id]) => id}
        empty="No splice: no circuit has more than two ends yet."
      />
    </div>
  );
}

function Branches({ chosen, onChoose }: { chosen: string | null; onChoose: (id: string) => void }) {
  const { design } = useDesign();
  const { edit, act, actNow } = useActs();
  const { closeWhy } = useWhy();
  const { document, evaluation } = design;
  const units = unitsOf(document);
  const rows = inOrder(document.route.branches);
  const columns = useMemo<Column<Branch>[]>(() => {
    const set = (id: string, field: string, value: unknown) =>
      edit(
        [{ op: "replace", path: pointer("route", "branches", id, field), value }],
        `${id} ${field.replace("_mm", "")}`,
      );
    const points = Object.entries(document.route.points).map(([p, x]) => ({
      value: p,
      label: x.name && x.name !== p ? `${p} ${x.name}` : p,
    }));
    const show = (p: string) => points.find((x) => x.value === p)?.label ?? p;
    return [
      {
        key: "id",
        head: "Branch",
        width: "64px",
        figures: true,
        text: ([id]) => id,
        title: () => "its id; renamed everywhere",
        needed: true,
        commit: ([id], v) => act("rename", v, `branches/${id}`),
        show: ([id]) => <strong>{id}</strong>,
      },
      {
        key: "from",
        head: "From",
        width: "minmax(96px,1fr)",
        text: ([, b]) => show(b.from_point),
        title: ([, b]) => show(b.from_point),
        show: ([, b]) => <PointName id={b.from_point} name={document.route.points[b.from_point]?.name ?? ""} />,
        choices: () => points,
        commit: ([id], v) => set(id, "from_point", v),
      },
      {
        key: "to",
        head: "To",
        width: "minmax(96px,1fr)",
        text: ([, b]) => show(b.to_point),
        title: ([, b]) => show(b.to_point),
        show: ([, b]) => <PointName id={b.to_point} name={document.route.points[b.to_point]?.name ?? ""} />,
        choices: () => points,
        commit: ([id], v) => set(id, "to_point", v),
      },
      {
        key: "length",
        head: "Length",
        unit: lengthUnit(units),
        width: "86px",
        align: "right",
        figures: true,
        text: ([, b]) => length(b.length_mm, units),
        title: ([, b]) => otherLength(b.length_mm, units),
        commit: ([id], v) => set(id, "length_mm", v),
      },
      {
        key: "measured",
        head: "Measured",
        width: "104px",
        text: ([, b]) => b.measured,
        choices: () => MEASURED.map((h) => ({ value: h, label: h })),
        commit: ([id], v) => set(id, "measured", v),
      },
      {
        key: "zone",
        head: "Zone",
        width: "92px",
        text: ([, b]) => (b.zone ? (document.brief.zones[b.zone]?.name ?? b.zone) : "none"),
        choices: () => [
          { value: "none", label: "none" },
          ...Object.entries(document.brief.zones).map(([z, x]) => ({ value: z, label: x.name })),
        ],
        commit: ([id], v) => set(id, "zone", v === "none" ? null : v),
      },
      {
        key: "slack",
        head: "Slack",
        unit: lengthUnit(units),
        width: "64px",
        align: "right",
        figures: true,
        text: ([, b]) => (b.slack_mm === null ? "rule" : length(b.slack_mm, units)),
        begin: ([, b]) => (b.slack_mm === null ? "" : length(b.slack_mm, units)),
        commit: ([id], v) => set(id, "slack_mm", v.trim() === "" ? null : v),
      },
      {
        key: "wires",
        head: "Wires",
        width: "52px",
        align: "right",
        figures: true,
        text: ([id]) => String(evaluation.route.branches[id]?.wires ?? 0),
      },
    ];
  }, [act, document, edit, evaluation, units]);
  return (
    <Grid
      label="Branches"
      steady
      rows={rows}
      columns={columns}
      rowKey={([id]) => id}
      selected={chosen}
      onSelect={([id]) => {
        closeWhy();
        onChoose(id);
      }}
      onDelete={([id]) => void actNow("take_out_branch", id)}
      onDuplicate={([id]) => void actNow("copy_branch", id)}
      empty="No branch yet."
    />
  );
}

/** A point by its code, and apart from it what it is called. */
function PointName({ id, name }: { id: string; name: string }) {
  return (
    <>
      <span className="font-figures text-plain">{id}</span>
      {name && name !== id && <span className="ml-2 text-second">{name}</span>}
    </>
  );
}
