import { useEffect, useMemo, useRef } from "react";
import { pointer, type Operation } from "../api/client";
import { useOwnFamily, type OwnContact, type OwnSeal } from "../api/ends";
import type { Column } from "../components/columns";
import { Grid } from "../components/Grid";
import { useSay } from "../components/Notice";
import { TypedField } from "../components/TypedField";
import { trim } from "../format";

type At<T> = [number, T];

const GENDERS = ["pin", "socket", "none"].map((g) => ({ value: g, label: g }));

/** A connector family of one's own, changed cell by cell: contacts, seals, and what holds for all of it. */
export function OwnFamily({ code }: { code: string }) {
  const { data, error, change, asFile, asBefore } = useOwnFamily(code);
  const say = useSay();
  const here = useRef<HTMLElement>(null);
  const shown = data !== undefined;
  useEffect(() => {
    if (shown) here.current?.scrollIntoView({ block: "nearest" });
  }, [shown]);
  const put = useMemo(
    () => async (operations: Operation[], back: Operation[], text: string) => {
      const problem = await change(operations);
      if (!problem) say(text, { label: "Take it back", run: () => void change(back).then((p) => p && say(p.detail)) });
      return problem;
    },
    [change, say],
  );
  const contacts = useMemo<Column<At<OwnContact>>[]>(() => {
    const figure = (key: keyof OwnContact, head: string, width: string, places: number): Column<At<OwnContact>> => ({
      key,
      head,
      width,
      align: "right",
      figures: true,
      text: ([, c]) => trim(c[key] as number, places),
      commit: ([n, c], typed) =>
        put(
          [{ op: "replace", path: pointer("contacts", String(n), key), value: typed }],
          [{ op: "replace", path: pointer("contacts", String(n), key), value: c[key] }],
          `${c.code}: ${head} ${typed}.`,
        ),
    });
    const text = (key: "code" | "description" | "size", head: string, width: string): Column<At<OwnContact>> => ({
      key,
      head,
      width,
      small: key === "description",
      text: ([, c]) => c[key],
      title: ([, c]) => c[key],
      commit: ([n, c], typed) =>
        put(
          [{ op: "replace", path: pointer("contacts", String(n), key), value: typed }],
          [{ op: "replace", path: pointer("contacts", String(n), key), value: c[key] }],
          `${c.code}: ${head.toLowerCase()} ${typed}.`,
        ),
    });
    return [
      text("code", "Contact", "minmax(84px,1fr)"),
      text("description", "What it is", "minmax(110px,1.6fr)"),
      {
        key: "gender",
        head: "Is",
        width: "62px",
        text: ([, c]) => c.gender,
        choices: () => GENDERS,
        commit: ([n, c], typed) =>
          put(
            [{ op: "replace", path: pointer("contacts", String(n), "gender"), value: typed }],
            [{ op: "replace", path: pointer("contacts", String(n), "gender"), value: c.gender }],
            `${c.code} is ${typed}.`,
          ),
      },
      text("size", "Size", "52px"),
      figure("conductor_min_mm2", "from mm²", "74px", 3),
      figure("conductor_max_mm2", "to mm²", "74px", 3),
      figure("insulation_min_mm", "over from", "76px", 2),
      figure("insulation_max_mm", "to mm", "66px", 2),
      figure("strip_mm", "strip mm", "70px", 2),
      figure("strip_tolerance_mm", "± mm", "56px", 2),
      figure("price", "price", "58px", 2),
      {
        key: "tool",
        head: "Tool",
        width: "92px",
        figures: true,
        text: ([, c]) => [c.tool, c.nest].filter((x) => x && x !== "-").join(" "),
      },
    ];
  }, [put]);
  const seals = useMemo<Column<At<OwnSeal>>[]>(() => {
    const cell = (key: keyof OwnSeal, head: string, width: string, numeric: boolean): Column<At<OwnSeal>> => ({
      key,
      head,
      width,
      ...(numeric ? { align: "right" as const, figures: true } : {}),
      text: ([, s]) => (numeric ? trim(s[key] as number, 2) : String(s[key])),
      commit: ([n, s], typed) =>
        put(
          [{ op: "replace", path: pointer("seals", String(n), key), value: typed }],
          [{ op: "replace", path: pointer("seals", String(n), key), value: s[key] }],
          `${s.code}: ${head} ${typed}.`,
        ),
    });
    return [
      cell("code", "Seal", "120px", false),
      cell("description", "What it is", "minmax(160px,1fr)", false),
      cell("od_min_mm", "from mm", "90px", true),
      cell("od_max_mm", "to mm", "90px", true),
      cell("price", "price", "80px", true),
    ];
  }, [put]);
  if (error) return <p className="text-madder">{error.message}</p>;
  if (!data) return <p className="text-second">Opening {code} ...</p>;
  const whole = (field: "name" | "temperature_c" | "voltage_v" | "turn", typed: string, words: string) =>
    put(
      [{ op: "replace", path: pointer(field), value: typed }],
      [{ op: "replace", path: pointer(field), value: data[field] }],
      words,
    );
  const add = (kind: "contacts" | "seals") => (typed: string) => {
    const [code = "", ...name] = typed.trim().split(/\s+/);
    const count = data[kind].length;
    // A new one begins as the last: what differs is then typed over.
    const operations: Operation[] = [
      { op: "copy", from: pointer(kind, String(count - 1)), path: pointer(kind, "-") },
      { op: "replace", path: pointer(kind, String(count), "code"), value: code.toUpperCase() },
      ...(name.length
        ? [{ op: "replace" as const, path: pointer(kind, String(count), "description"), value: name.join(" ") }]
        : []),
    ];
    return put(
      operations,
      [{ op: "remove", path: pointer(kind, String(count)) }],
      `${code.toUpperCase()} begins as ${data[kind][count - 1]?.code ?? "the last"}.`,
    );
  };
  const remove = (kind: "contacts" | "seals", n: number, code: string) => {
    void (async () => {
      const before = await asFile();
      const problem = await change([{ op: "remove", path: pointer(kind, String(n)) }]);
      if (problem) say(problem.detail);
      else
        say(`${code} is out of the family.`, {
          label: "Put it back",
          run: () => void asBefore(before).then((p) => p && say(p.detail)),
        });
    })();
  };
  return (
    <section ref={here} aria-label={`Series ${code}`} className="mt-2 border border-ink bg-sheet p-4">
      <div className="grid max-w-[760px] gap-x-8 min-[800px]:grid-cols-2">
        <TypedField label="Name" value={data.name} onCommit={(v) => whole("name", v, `${code} is ${v}.`)} />
        <TypedField
          label="Contacts lie"
          value={data.turn}
          placeholder="lance to the latch; any way round"
          onCommit={(v) => whole("turn", v, `Contacts lie ${v}.`)}
        />
        <TypedField
          figures
          label="Stands"
          value={`${trim(data.temperature_c, 0)} °C`}
          onCommit={(v) => whole("temperature_c", v, `${code} stands ${v}.`)}
        />
        <TypedField
          figures
          label="For"
          value={`${trim(data.voltage_v, 0)} V`}
          onCommit={(v) => whole("voltage_v", v, `${code} is for ${v}.`)}
        />
      </div>
      <div className="mt-3 overflow-x-auto">
        <Grid
          label={`Contacts of ${code}`}
          rows={data.contacts.map<At<OwnContact>>((c, n) => [n, c])}
          columns={contacts}
          rowKey={([, c]) => c.code}
          rowHeight={30}
          onDelete={([n, c]) => remove("contacts", n, c.code)}
          {...(data.contacts.length
            ? { onNew: { prompt: "new contact: MY-S-20 socket, stamped", commit: add("contacts") } }
            : {})}
        />
      </div>
      {data.seals.length > 0 && (
        <div className="mt-4">
          <Grid
            label={`Seals of ${code}`}
            rows={data.seals.map<At<OwnSeal>>((s, n) => [n, s])}
            columns={seals}
            rowKey={([, s]) => s.code}
            rowHeight={30}
            onDelete={([n, s]) => remove("seals", n, s.code)}
            onNew={{ prompt: "new seal: MY-SEAL-3 yellow", commit: add("seals") }}
          />
        </div>
      )}
      <p className="mt-3 max-w-[86ch] text-plain text-second">
        Figures may be typed with units; an area may be typed as a gauge, 20 AWG. What would make the family contradict
        itself is refused where it is typed. Faces, tools and accessories are changed in the JSON file.
      </p>
    </section>
  );
}
