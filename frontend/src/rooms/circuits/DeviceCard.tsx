import { useMemo, useState, type ReactNode } from "react";
import { pointer, type HarnessDocument, type Operation } from "../../api/client";
import { useAlternatives, useDesign, useLibrary, useActs, useWhy } from "../../api/design";
import { circuitByPin } from "../../api/joined";
import { Fields } from "../../components/Fields";
import type { Column } from "../../components/columns";
import { Grid } from "../../components/Grid";
import { useSay } from "../../components/Notice";
import { Sheet } from "../../components/Sheet";
import { TypedField } from "../../components/TypedField";
import { amperes, inOrder, nextOrder, trim, words } from "../../format";
import { PATH_KINDS, PIN_ROLES } from "../../api/values";
import { DEVICE, LOAD, LOAD_PEAKS, moments, PIN_DATA, pathFields, SENSOR, STRUCTURE } from "./specs";

type Device = HarnessDocument["circuits"]["devices"][string];
type Pin = [string, Device["pins"][string]];

const SWITCHING = [
  { value: "not said", label: "not said" },
  { value: "sourcing", label: "sourcing (PNP)" },
  { value: "sinking", label: "sinking (NPN)" },
  { value: "either", label: "either" },
];

const SWITCH = new Set<string>(["signal", "trigger", "output_high", "output_low"]);
const SHORT: Record<string, string> = { sourcing: "PNP", sinking: "NPN", either: "either" };

/** One device: its pins and their roles, the paths current may take inside it, its fuses. */
export function DeviceCard({ device: id }: { device: string }) {
  const { design } = useDesign();
  const { edit, doIt, act } = useActs();
  const { askWhy } = useWhy();
  const device = design.document.circuits.devices[id];
  const circuits = design.document.circuits.circuits;
  const pinout = design.document.ends.pinout;
  const switches = Object.values(device?.pins ?? {}).some((p) => SWITCH.has(p.role));
  const columns = useMemo<Column<Pin>[]>(() => {
    const set = (pin: string, field: string, value: unknown) =>
      edit(
        [{ op: "replace", path: pointer("circuits", "devices", id, "pins", pin, field), value }],
        `${id}.${pin} ${field}`,
      );
    const circuitOf = (pin: string) => circuitByPin(circuits).get(`${id}.${pin}`) ?? "";
    return [
      {
        key: "pin",
        head: "Pin",
        width: "34px",
        figures: true,
        text: ([pin]) => pin,
        show: ([pin]) => <strong>{pin}</strong>,
      },
      {
        key: "role",
        head: "Role",
        width: "minmax(72px,1fr)",
        small: true,
        text: ([, p]) => words(p.role),
        choices: () => PIN_ROLES.map((r) => ({ value: r, label: words(r) })),
        commit: ([pin], v) => set(pin, "role", v),
      },
      {
        key: "name",
        head: "Name",
        width: "minmax(54px,1fr)",
        small: true,
        text: ([, p]) => p.name,
        title: ([, p]) => p.name,
        commit: ([pin], v) => set(pin, "name", v),
      },
      ...(switches
        ? [
            {
              key: "switching",
              head: "Kind",
              width: "46px",
              small: true,
              text: ([, p]: Pin) => SHORT[p.switching] ?? "",
              title: () =>
                "how an electronic output switches, or the kind an input takes: sourcing (PNP) or sinking (NPN)",
              choices: () => SWITCHING,
              commit: ([pin]: Pin, v: string) => set(pin, "switching", v),
            },
          ]
        : []),
      {
        key: "group",
        head: "With",
        width: "36px",
        text: ([, p]) => p.group,
        title: () => "pins with the same word here must be joined",
        commit: ([pin], v) => set(pin, "group", v),
      },
      { key: "circuit", head: "In", width: "40px", figures: true, text: ([pin]) => circuitOf(pin) },
    ];
  }, [circuits, edit, id, switches]);
  if (!device) return null;
  const at = ["circuits", "devices", id];
  const loads = inOrder(design.document.circuits.loads).filter(([, l]) => l.device === id);
  const paths = inOrder(device.paths);
  const unplaced = Object.keys(device.pins).filter((p) => !(`${id}.${p}` in pinout));
  return (
    <Sheet label={`Device ${id}`}>
      <h2 className="text-head leading-tight">{id}</h2>
      <p className="text-plain text-second">{device.name}</p>
      <div className="mb-2 mt-1">
        <Fields at={at} entry={{ ...device }} specs={DEVICE} about={id} />
      </div>
      {loads.map(([load, l]) => (
        <More
          key={`${load} ${loads.length}`}
          title={`What it draws: ${amperes(l.current_a)}`}
          open={loads.length === 1}
        >
          <Fields at={["circuits", "loads", load]} entry={{ ...l }} specs={LOAD} about={id} />
          <More title={`Peak and inrush: ${moments(l) || "none stated"}`}>
            <Fields at={["circuits", "loads", load]} entry={{ ...l }} specs={LOAD_PEAKS} about={id} />
          </More>
        </More>
      ))}
      <Grid
        label={`Pins of ${id}`}
        rows={inOrder(device.pins)}
        columns={columns}
        rowKey={([pin]) => pin}
        rowHeight={30}
        onDelete={([pin]) => {
          const ref = `${id}.${pin}`;
          const circuit = circuitByPin(circuits).get(ref);
          void doIt(
            [
              ...(circuit
                ? [{ op: "remove" as const, path: pointer("circuits", "circuits", circuit, "ends", ref) }]
                : []),
              ...(ref in pinout ? [{ op: "remove" as const, path: pointer("ends", "pinout", ref) }] : []),
              { op: "remove" as const, path: pointer("circuits", "devices", id, "pins", pin) },
            ],
            `take out pin ${ref}`,
          );
        }}
        onNew={{ prompt: "new pin: O2 fan relay", commit: (typed) => act("pin", typed, id) }}
      />
      {unplaced.length > 0 && (
        <p className="mt-2 text-plain">
          {unplaced.join(", ")} {unplaced.length === 1 ? "has" : "have"} no cavity.{" "}
          <button className="quiet" onClick={() => void act("place", "", id)}>
            Assign cavities
          </button>
        </p>
      )}
      <More
        title={
          device.pin_data === "not known"
            ? "Where its pins are known from: not said"
            : `Pins known from: ${device.pin_data}`
        }
      >
        <Fields at={at} entry={{ ...device }} specs={PIN_DATA} about={id} />
      </More>
      {(device.structure || loads.length === 0) && paths.length === 0 && (
        <More title={device.structure ? "A chassis ground stud" : "More about it"}>
          <Fields at={at} entry={{ ...device }} specs={[...STRUCTURE, ...SENSOR]} about={id} />
        </More>
      )}
      {paths.length > 0 && <h3 className="mb-1 mt-4 text-lead">Inside it</h3>}
      {paths.map(([path, p]) => (
        <PathLine key={path} device={id} path={path} inner={p} onWhy={() => askWhy("fuse", `${id}.${path}`)} />
      ))}
      {paths.some(([, p]) => ["relay", "contactor", "fuse", "breaker"].includes(p.kind)) && (
        <More title="What else it may be made as">
          <Alternatives device={id} />
        </More>
      )}
      <Keep key={device.kind} device={id} />
      {Object.keys(device.pins).length > 1 && (
        <More title="Add a path for current inside it">
          <AddPath
            device={id}
            pins={inOrder(device.pins).map(([pin]) => pin)}
            order={nextOrder(device.paths)}
            taken={Object.keys(device.paths)}
          />
        </More>
      )}
    </Sheet>
  );
}

/** A relay's bases and terminals, a fuse and a breaker: what each costs, weighs and asks for, and how it is taken. */
function Alternatives({ device }: { device: string }) {
  const { edit } = useActs();
  const { data, error } = useAlternatives(device);
  const [problem, setProblem] = useState<string | null>(null);
  if (error) return <p className="text-madder">{error.message}</p>;
  if (!data) return <p className="text-second">Working each out ...</p>;
  if (data.ways.length === 0) return <p className="text-second">Nothing else is known that it may be made as.</p>;
  const more = (value: number, digits: number) =>
    Math.abs(value) < 0.5 * 10 ** -digits ? "–" : `${value > 0 ? "+" : "−"}${trim(Math.abs(value), digits)}`;
  return (
    <>
      {problem && (
        <p role="alert" className="text-madder">
          {problem}
        </p>
      )}
      <ul>
        {data.ways.map((w) => (
          <li key={w.name} className="border-b border-faint py-1.5">
            <div className="flex items-baseline justify-between gap-2">
              <strong>{w.name}</strong>
              {w.chosen ? (
                <span className="text-second">as it is now</span>
              ) : (
                <button
                  className="quiet whitespace-nowrap"
                  onClick={() =>
                    void edit(w.operations as Operation[], `${device} as ${w.name.split(",")[0]}`).then((p) =>
                      setProblem(p ? p.detail : null),
                    )
                  }
                >
                  make it so
                </button>
              )}
            </div>
            {!w.chosen && (
              <p className="font-figures text-fine">
                cost {more(w.cost, 2)}, {more(w.grams, 1)} g, tools {more(w.tooling, 0)}, joints to make{" "}
                {more(w.joints, 0)}
                {w.stops > 0 && <span className="text-madder">, stops +{w.stops}</span>}
              </p>
            )}
            {w.words.length > 0 && <p className="text-fine text-second">{w.words.join("; ")}</p>}
          </li>
        ))}
      </ul>
    </>
  );
}

/** Keep the device as a kind of your own: typed lines know it from then on. */
function Keep({ device }: { device: string }) {
  const { id, design } = useDesign();
  const { keepKind } = useLibrary();
  const say = useSay();
  const [label, setLabel] = useState(design.document.circuits.devices[device]?.name ?? "");
  const [known, setKnown] = useState("");
  const [problem, setProblem] = useState<string | null>(null);
  return (
    <More title="Keep it in the library">
      <form
        className="space-y-1.5 py-1"
        onSubmit={(e) => {
          e.preventDefault();
          void keepKind({ design_id: id, device, label, words: known }).then((found) => {
            setProblem(found ? found.detail : null);
            if (!found) say(`A typed ${label} begins like ${device} from now on.`);
          });
        }}
      >
        <label className="block">
          name
          <input className="inkbox w-full" value={label} onChange={(e) => setLabel(e.target.value)} />
        </label>
        <label className="block">
          also known as
          <input
            className="inkbox w-full"
            value={known}
            placeholder="hooter, air horn"
            onChange={(e) => setKnown(e.target.value)}
          />
        </label>
        {problem && (
          <p role="alert" className="text-madder">
            {problem}
          </p>
        )}
        <button className="press" type="submit">
          Keep it
        </button>
      </form>
    </More>
  );
}

/** A part of the card that opens when wanted: made then, and kept, so that nothing typed in it is lost. */
function More({ title, open = false, children }: { title: string; open?: boolean; children: ReactNode }) {
  const [made, setMade] = useState(open);
  return (
    <details
      open={open}
      onToggle={(e) => e.currentTarget.open && setMade(true)}
      className="border-t border-faint py-1.5 text-plain"
    >
      <summary className="cursor-pointer font-semibold">{title}</summary>
      {made && children}
    </details>
  );
}

function PathLine({
  device,
  path,
  inner,
  onWhy,
}: {
  device: string;
  path: string;
  inner: Device["paths"][string];
  onWhy: () => void;
}) {
  const { design } = useDesign();
  const { edit, doIt } = useActs();
  const fuse = design.evaluation.circuits.fuses[`${device}.${path}`];
  const at = pointer("circuits", "devices", device, "paths", path);
  return (
    <div className="border-b border-faint py-1.5 text-plain">
      <div className="flex items-baseline justify-between gap-2">
        <span>
          <span className="font-figures">
            {inner.from_pin} → {inner.to_pin}
          </span>{" "}
          {inner.kind}
        </span>
        <button
          className="quiet"
          onClick={() => void doIt([{ op: "remove", path: at }], `take out a path in ${device}`)}
        >
          take out
        </button>
      </div>
      <Fields
        at={["circuits", "devices", device, "paths", path]}
        entry={{ ...inner }}
        specs={pathFields(inner.kind)}
        about={`${device} ${inner.kind}`}
      />
      {fuse && (
        <div className="flex items-baseline gap-2">
          <div className="min-w-0 flex-1">
            <TypedField
              narrow
              figures
              label="rating"
              value={inner.rating_a === null ? "" : `${inner.rating_a} A`}
              placeholder={`${fuse.rating_a} A, worked out`}
              onCommit={(typed) =>
                edit(
                  [{ op: "replace", path: `${at}/rating_a`, value: typed.trim() || null }],
                  `${device} rated ${typed || "by the program"}`,
                )
              }
            />
          </div>
          <button className="quiet" onClick={onWhy}>
            why
          </button>
        </div>
      )}
    </div>
  );
}

/** A way for current between two pins: which, and what kind of part makes it. */
function AddPath({ device, pins, order, taken }: { device: string; pins: string[]; order: number; taken: string[] }) {
  const { edit } = useActs();
  const [chosen, setChosen] = useState({ from: "", to: "" });
  const from = pins.includes(chosen.from) ? chosen.from : (pins[0] ?? "");
  const to = pins.includes(chosen.to) ? chosen.to : (pins[1] ?? "");
  const [kind, setKind] = useState<string>("link");
  const [problem, setProblem] = useState<string | null>(null);
  let id = 1;
  while (taken.includes(String(id))) id += 1;
  const choose = (label: string, value: string, choices: readonly string[], set: (v: string) => void) => (
    <label className="block min-w-0 flex-1">
      {label}
      <select className="inkbox w-full" value={value} onChange={(e) => set(e.target.value)}>
        {choices.map((c) => (
          <option key={c}>{c}</option>
        ))}
      </select>
    </label>
  );
  return (
    <form
      className="space-y-1.5 py-1"
      onSubmit={(e) => {
        e.preventDefault();
        if (from === to) {
          setProblem("A path goes from one pin to another. Choose two.");
          return;
        }
        const value = { order, from_pin: from, to_pin: to, kind, rating_a: null, reason: "" };
        void edit(
          [{ op: "add", path: pointer("circuits", "devices", device, "paths", String(id)), value }],
          `a ${kind} inside ${device}`,
        ).then((found) => setProblem(found ? found.detail : null));
      }}
    >
      <div className="flex gap-1.5">
        {choose("from", from, pins, (v) => setChosen({ from: v, to }))}
        {choose("to", to, pins, (v) => setChosen({ from, to: v }))}
        {choose("by a", kind, PATH_KINDS, setKind)}
      </div>
      {problem && (
        <p role="alert" className="text-madder">
          {problem}
        </p>
      )}
      <button className="press" type="submit">
        Add it
      </button>
    </form>
  );
}
