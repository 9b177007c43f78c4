import { useMemo, useState } from "react";
import { useSearchParams } from "react-router";
import { pointer, type Problem } from "../../api/client";
import { useActs, useDesign } from "../../api/design";
import { useWorkState, type Step, type Work } from "../../api/work";
import type { Column } from "../../components/columns";
import { Grid } from "../../components/Grid";
import { Sentence } from "../../components/Sentence";
import { nextOrder, trim } from "../../format";
import { groupsOf } from "./groups";
import { hours } from "./hours";

const FIRST = "start";

/** Steps in order, a group at a time. A number typed moves a step; what that breaks is said at once. */
export function OrderLeaf({ work }: { work: Work }) {
  const { design } = useDesign();
  const { edit } = useActs();
  const { data: state } = useWorkState(1, "desk");
  const asked = useSearchParams()[0].get("step");
  const [group, setGroup] = useState("");
  const groups = useMemo(() => groupsOf(work), [work]);
  // A step that is asked for is shown with those about it; one left out with those of its place.
  const about = groups.find(
    (g) =>
      asked !== null && (g.steps.includes(asked) || work.left_out.some((s) => s.id === asked && s.place === g.key)),
  );
  const shown = groups.find((g) => g.key === group) ?? about ?? groups[0];
  const at = useMemo(() => new Map(work.steps.map((s, n) => [s.id, n])), [work]);
  const broken = useMemo(() => new Map(work.broken.map((b) => [b.step, b])), [work]);
  const words = useMemo(() => new Map([...work.steps, ...work.left_out].map((s) => [s.id, s.words])), [work]);
  const done = useMemo(() => new Set(state?.done.map((d) => d.step)), [state]);
  const chosen = design.document.build.steps;
  const rows = useMemo(() => {
    const inGroup = new Set(shown?.steps);
    const out = work.left_out.filter((s) => !shown || s.place === shown.key || work.left_out.length < 12);
    return [...work.steps.filter((s) => inGroup.has(s.id)), ...out];
  }, [shown, work]);

  const columns = useMemo<Column<Step>[]>(() => {
    const put = (step: string, key: "after" | "left_out", value: string | boolean | null, label: string) =>
      edit(
        [
          chosen[step]
            ? { op: "replace", path: `${pointer("build", "steps", step)}/${key}`, value }
            : {
                op: "add",
                path: pointer("build", "steps", step),
                value: { order: nextOrder(chosen), [key]: value },
              },
        ],
        label,
      );
    const moved = (step: Step, typed: string): Promise<Problem | null> => {
      if (typed.trim() === "") return put(step.id, "after", null, `${step.kind} back in its place`);
      const others = work.steps.filter((s) => s.id !== step.id);
      const n = Number(typed);
      if (!Number.isInteger(n) || n < 1 || n > others.length + 1) return Promise.resolve(noPlace(others.length + 1));
      return put(step.id, "after", others[n - 2]?.id ?? FIRST, `${step.kind} moved to ${n}`);
    };
    return [
      {
        key: "no",
        head: "No.",
        width: "62px",
        align: "right",
        figures: true,
        text: (s) => (at.has(s.id) ? String((at.get(s.id) ?? 0) + 1) : "–"),
        title: (s) =>
          chosen[s.id]?.after ? "moved by you; empty it to put it back" : "type another number to move it",
        show: (s) => <strong>{at.has(s.id) ? (at.get(s.id) ?? 0) + 1 : "–"}</strong>,
        commit: moved,
      },
      { key: "kind", head: "What", width: "76px", text: (s) => s.kind },
      {
        key: "words",
        head: "Step",
        width: "minmax(220px,2.4fr)",
        text: (s) => s.words,
        title: (s) => [s.words, s.look, s.caution].filter(Boolean).join(" "),
        stamp: (s) => `${done.has(s.id)}${broken.has(s.id)}`,
        show: (s) => (
          <span className={broken.has(s.id) ? "text-madder" : done.has(s.id) ? "text-second" : ""}>
            {done.has(s.id) && <span className="font-bold text-verdigris">✓ </span>}
            {s.words}
          </span>
        ),
      },
      {
        key: "tool",
        head: "Tool and setting",
        width: "minmax(110px,1fr)",
        small: true,
        text: (s) => [s.tool, s.setting].filter(Boolean).join(", "),
      },
      {
        key: "waits",
        head: "Waits for",
        width: "minmax(110px,1.2fr)",
        small: true,
        text: (s) => waitsFor(s, words),
        title: (s) => s.after.map((a) => words.get(a) ?? a).join(" "),
        show: (s) => {
          const why = broken.get(s.id);
          return why ? (
            <span className="text-madder">
              {why.left_out ? "left out: " : "comes later: "}
              {words.get(why.waits_for)}
            </span>
          ) : (
            waitsFor(s, words)
          );
        },
      },
      {
        key: "minutes",
        head: "min",
        width: "52px",
        align: "right",
        figures: true,
        text: (s) => trim(s.minutes, 1),
      },
      {
        key: "do",
        head: "Is",
        width: "82px",
        text: (s) => (chosen[s.id]?.left_out ? "left out" : done.has(s.id) ? "done" : "to do"),
        choices: () => [
          { value: "to do", label: "to do" },
          { value: "left out", label: "left out" },
        ],
        commit: (s, typed) =>
          put(s.id, "left_out", typed === "left out", `${s.kind} ${typed === "left out" ? "left out" : "put back"}`),
      },
    ];
  }, [at, broken, chosen, done, edit, words, work]);

  if (!shown) return <p className="text-second">Nothing to do yet.</p>;
  const left = state ? ` About **${hours(state.minutes_left)}** left of ${hours(work.minutes)}.` : "";
  return (
    <>
      <p className="mb-2 max-w-[92ch] text-second">
        <Sentence
          text={`**${work.steps.length}** steps on **${work.cards.length}** cards; a crimper is set **${work.settings}** times.${left}`}
        />
      </p>
      <p className="mb-2 flex flex-wrap items-center gap-x-2 gap-y-1">
        <label className="flex items-center gap-2">
          Show
          <select
            className="inkbox max-w-[300px]"
            value={shown.key}
            onChange={(e) => setGroup(e.target.value)}
            aria-label="Steps shown"
          >
            {groups.map((g) => (
              <option key={g.key} value={g.key}>
                {g.label} ({g.steps.length})
              </option>
            ))}
          </select>
        </label>
        {work.broken.length > 0 && (
          <span className="font-bold text-madder">
            {work.broken.length === 1 ? "One step waits in vain." : `${work.broken.length} steps wait in vain.`}
          </span>
        )}
      </p>
      <Grid
        label="Order of work"
        rows={rows}
        columns={columns}
        rowKey={(s) => s.id}
        selected={asked}
        empty="Nothing to do yet."
        steady
      />
    </>
  );
}

function waitsFor(step: Step, words: Map<string, string>): string {
  const last = step.after.at(-1);
  if (!last) return "";
  const more = step.after.length - 1;
  return `${words.get(last) ?? last}${more > 0 ? ` and ${more} more` : ""}`;
}

function noPlace(most: number): Problem {
  const message = `A place in the order is a whole number from 1 to ${most}.`;
  return {
    type: "about:blank",
    title: "No such place",
    status: 422,
    detail: message,
    errors: [{ path: "/after", message, remedy: "Type another, or empty it to leave it to the program." }],
  };
}
