import { useMemo, useState } from "react";
import { pointer, type HarnessDocument } from "../../api/client";
import { useDesign } from "../../api/design";
import { Grid, type Column } from "../../components/Grid";
import { Fact, Room, Sheet } from "../../components/Room";
import { TypedLine } from "../../components/TypedLine";
import { degrees, inOrder, length, otherLength, trim } from "../../format";
import { RouteDrawing } from "./RouteDrawing";

type Branch = [string, HarnessDocument["route"]["branches"][string]];

const HOW = ["old part", "tape", "laid in place", "model", "guess"];

/** Where the harness runs: typed as measured, drawn to scale. */
export function RouteRoom() {
  const { design, act } = useDesign();
  const [chosen, setChosen] = useState<string | null>(null);
  const branches = design.document.route.branches;
  const open = chosen && branches[chosen] ? chosen : null;
  const any = Object.keys(design.document.route.points).length > 0;
  return (
    <Room room="route" title="Route" beside={open ? <BranchCard branch={open} /> : undefined}>
      {any && <RouteDrawing chosen={open} onChoose={setChosen} />}
      <TypedLine label="add" example="B1 180 > tail 310 > M1" onCommit={(text) => act("run", text)} />
      {!any && (
        <p className="mb-3 max-w-[72ch] border-l-[3px] border-madder pl-4">
          A point, how far, the next point. A point named as a device takes that device's connector: <span className="font-figures">B1 180 &gt; tail 4 ft 2 &gt; M1</span>. Any
          other name is a place where branches part.
        </p>
      )}
      <Branches chosen={open} onChoose={setChosen} />
    </Room>
  );
}

function BranchCard({ branch: id }: { branch: string }) {
  const { design } = useDesign();
  const { document, evaluation } = design;
  const branch = document.route.branches[id];
  const seen = evaluation.route.branches[id];
  if (!branch || !seen) return null;
  const units = document.brief.units;
  const name = (point: string) => document.route.points[point]?.name || point;
  const splices = Object.values(evaluation.route.splices).filter((s) => s.branch === id || (!s.branch && [branch.from_point, branch.to_point].includes(s.point)));
  const inside = evaluation.cut.cuts.filter((c) => seen.wires > 0 && wiresOf(evaluation, id).includes(c.wire));
  return (
    <Sheet label={`Branch ${id}`}>
      <h2 className="text-[21px] leading-tight">{id}</h2>
      <p className="text-[14px] text-second">
        {name(branch.from_point)} to {name(branch.to_point)}
      </p>
      <dl className="mt-3 text-[15px]">
        <Fact name="length">
          <strong>{length(branch.length_mm, units)}</strong>, {branch.measured}
        </Fact>
        <Fact name="zone">
          {branch.zone ? (document.brief.zones[branch.zone]?.name ?? branch.zone) : "none"}, {degrees(seen.ambient_c, units)}
        </Fact>
        <Fact name="holds">
          <strong>{seen.wires}</strong> {seen.wires === 1 ? "wire" : "wires"}
        </Fact>
        <Fact name="about">
          {seen.wires ? `${trim(seen.bundle.tight_mm, 1)} mm tight, ${trim(seen.bundle.loose_mm, 1)} mm as laid${seen.bundle.estimated ? ", estimated" : ""}` : "nothing in it"}
        </Fact>
        <Fact name="hottest">{seen.hottest_c === null ? "–" : `${degrees(seen.hottest_c, units)} at the core`}</Fact>
        <Fact name="splices">
          {splices.length === 0
            ? "none here"
            : splices.map((s) => `${s.circuit} at ${name(s.point)}${s.offset_mm ? `, ${length(s.offset_mm, units)} up the branch` : ""}`).join("; ")}
        </Fact>
        <Fact name="slack">{branch.slack_mm === null ? "by house rule" : length(branch.slack_mm, units)}</Fact>
      </dl>
      {inside.length > 0 && <p className="mt-2 font-figures text-[13px] text-second">{inside.map((c) => c.label).join(" ")}</p>}
    </Sheet>
  );
}

function wiresOf(evaluation: { route: { wires: Record<string, string[]> } }, branch: string): string[] {
  return evaluation.route.wires[branch] ?? [];
}

function Branches({ chosen, onChoose }: { chosen: string | null; onChoose: (id: string) => void }) {
  const { design, edit, actNow, closeWhy } = useDesign();
  const { document, evaluation } = design;
  const units = document.brief.units;
  const rows = inOrder(document.route.branches);
  const columns = useMemo<Column<Branch>[]>(() => {
    const set = (id: string, field: string, value: unknown) =>
      edit([{ op: "replace", path: pointer("route", "branches", id, field), value }], `${id} ${field.replace("_mm", "")}`);
    const points = Object.entries(document.route.points).map(([p, x]) => ({ value: p, label: x.name && x.name !== p ? `${p} ${x.name}` : p }));
    const show = (p: string) => points.find((x) => x.value === p)?.label ?? p;
    return [
      { key: "id", head: "Branch", width: "64px", figures: true, text: ([id]) => id, show: ([id]) => <strong>{id}</strong> },
      { key: "from", head: "From", width: "minmax(96px,1fr)", text: ([, b]) => show(b.from_point), choices: () => points, commit: ([id], v) => set(id, "from_point", v) },
      { key: "to", head: "To", width: "minmax(96px,1fr)", text: ([, b]) => show(b.to_point), choices: () => points, commit: ([id], v) => set(id, "to_point", v) },
      {
        key: "length",
        head: "Length",
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
        choices: () => HOW.map((h) => ({ value: h, label: h })),
        commit: ([id], v) => set(id, "measured", v),
      },
      {
        key: "zone",
        head: "Zone",
        width: "92px",
        text: ([, b]) => (b.zone ? (document.brief.zones[b.zone]?.name ?? b.zone) : "none"),
        choices: () => [{ value: "none", label: "none" }, ...Object.entries(document.brief.zones).map(([z, x]) => ({ value: z, label: x.name }))],
        commit: ([id], v) => set(id, "zone", v === "none" ? null : v),
      },
      {
        key: "slack",
        head: "Slack",
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
  }, [document, edit, evaluation, units]);
  return (
    <Grid
      label="Branches"
      rows={rows}
      columns={columns}
      rowKey={([id]) => id}
      selected={chosen}
      onSelect={([id]) => {
        closeWhy();
        onChoose(id);
      }}
      onDelete={([id]) => void actNow("take_out_branch", id)}
      empty="No branch yet."
    />
  );
}
