import { useCallback, useMemo } from "react";
import { pointer, type Catalogue, type DesignReply, type Problem } from "../../api/client";
import { useActs, useCatalogue, useDesign } from "../../api/design";
import type { Column } from "../../components/columns";
import { Grid } from "../../components/Grid";
import { ChoiceField, TypedField } from "../../components/TypedField";
import { nextOrder, trim } from "../../format";

type RuleRow = [string, DesignReply["evaluation"]["brief"]["rules"][string]];

/** House rules: figures in a grid, and below it what builders differ on, with who holds which view and why. */
export function HouseRules() {
  const { design } = useDesign();
  const { edit } = useActs();
  const catalogue = useCatalogue();
  const known = useMemo(() => catalogue?.rules ?? {}, [catalogue]);
  const own = design.document.brief.house_rules;
  const rows: RuleRow[] = Object.entries(design.evaluation.brief.rules).filter(([id]) => known[id]);
  const put = useCallback(
    (id: string, value: unknown, reason: string) =>
      edit(
        [
          {
            op: own[id] ? "replace" : "add",
            path: pointer("brief", "house_rules", id),
            value: { order: own[id]?.order ?? nextOrder(own), value, reason },
          },
        ],
        `house rule ${known[id]?.label ?? id}`,
      ),
    [edit, known, own],
  );
  const back = useCallback(
    (id: string) =>
      own[id]
        ? edit(
            [{ op: "remove", path: pointer("brief", "house_rules", id) }],
            `${known[id]?.label ?? id} as the practice has it`,
          )
        : Promise.resolve(null),
    [edit, known, own],
  );
  const columns = useMemo<Column<RuleRow>[]>(
    () => [
      {
        key: "label",
        head: "Rule",
        width: "minmax(220px,1.3fr)",
        text: ([id]) => known[id]?.label ?? id,
        title: ([id]) => known[id]?.why ?? "",
      },
      {
        key: "value",
        head: "Value",
        width: "110px",
        align: "right",
        figures: true,
        text: ([id, r]) => (r.value === null ? "by table" : `${trim(r.value, 3)} ${known[id]?.unit ?? ""}`.trim()),
        begin: ([, r]) => (r.value === null ? "" : trim(r.value, 3)),
        commit: ([id], v) => (v.trim() === "" ? back(id) : put(id, v, own[id]?.reason ?? "")),
      },
      {
        key: "origin",
        head: "From",
        width: "90px",
        text: ([, r]) => (r.origin === "house" ? "yours" : r.origin),
        show: ([, r]) => (
          <span className={r.origin === "house" ? "font-semibold text-blue" : "text-second"}>
            {r.origin === "house" ? "yours" : r.origin}
          </span>
        ),
      },
      {
        key: "reason",
        head: "Because",
        width: "minmax(200px,2fr)",
        text: ([id, r]) => (r.origin === "house" ? r.reason || "why? type your reason" : (known[id]?.why ?? "")),
        title: ([id]) => `${known[id]?.why} Source: ${known[id]?.source}.`,
        show: ([id, r]) =>
          r.origin === "house" ? (
            <span className={r.reason ? "" : "text-ochre"}>{r.reason || "why? type your reason"}</span>
          ) : (
            <span className="text-second">{known[id]?.why}</span>
          ),
        begin: ([id]) => own[id]?.reason ?? "",
        commit: ([id, r], v) => put(id, own[id]?.value ?? r.value ?? 0, v),
      },
    ],
    [back, known, own, put],
  );
  return (
    <>
      <Grid
        label="House rules"
        rows={rows.filter(([id]) => known[id]?.choices.length === 0)}
        columns={columns}
        rowKey={([id]) => id}
      />
      <h3 className="mb-1 mt-5 text-lead">Where builders differ</h3>
      <div className="max-w-[860px]">
        {rows
          .filter(([id]) => known[id]?.choices.length)
          .map(([id, r]) => {
            const about = known[id];
            return (
              about && (
                <Differ key={id} id={id} rule={r} about={about} reason={own[id]?.reason ?? ""} put={put} back={back} />
              )
            );
          })}
      </div>
    </>
  );
}

interface DifferProps {
  id: string;
  rule: RuleRow[1];
  about: Catalogue["rules"][string];
  reason: string;
  put: (id: string, value: unknown, reason: string) => Promise<Problem | null>;
  back: (id: string) => Promise<Problem | null>;
}

/** One thing builders differ on: the view in force, who holds it and why, and the others. */
function Differ({ id, rule, about, reason, put, back }: DifferProps) {
  const mine = rule.origin === "house";
  const preset = rule.preset_value ?? rule.value;
  const choices = about.choices.map((c) => ({
    value: String(c.value),
    label: `${c.label}${c.value === preset ? ", as the practice" : ""}`,
  }));
  return (
    <div className="pb-1.5">
      <ChoiceField
        narrow={false}
        label={about.label}
        value={String(rule.value)}
        choices={choices}
        hint={about.choices.find((c) => c.value === rule.value)?.why ?? ""}
        onCommit={(v) => (Number(v) === preset ? back(id) : put(id, Number(v), reason))}
      />
      {mine && (
        <TypedField
          label="because"
          value={reason}
          placeholder="why? type your reason"
          onCommit={(v) => put(id, rule.value, v)}
        />
      )}
      <details className="ml-[162px] text-fine text-second">
        <summary className="cursor-pointer">what others hold</summary>
        <p>{about.why}</p>
        {about.choices
          .filter((c) => c.value !== rule.value)
          .map((c) => (
            <p key={c.value}>
              <strong>{c.label}</strong>: {c.why}
            </p>
          ))}
        <p>Source: {about.source}.</p>
      </details>
    </div>
  );
}
