import { useState } from "react";
import { pointer, type Problem, type Schemas } from "../../api/client";
import { useCatalogue, useDesign, useActs } from "../../api/design";
import { useHalf, usePinout } from "../../api/ends";
import { ChoiceField, FlagField, TypedField } from "../../components/TypedField";
import { inOrder, length, unitsOf } from "../../format";

/** What the builder states about one connector on the harness. */
export function ConnectorFields({ id }: { id: string }) {
  const { design } = useDesign();
  const units = unitsOf(design.document);
  const { edit, act } = useActs();
  const catalogue = useCatalogue();
  const { mate } = usePinout();
  const [more, setMore] = useState(false);
  const connector = design.document.ends.connectors[id];
  if (!connector || !catalogue) return null;
  const family = catalogue.connectors.find((f) => f.code === connector.family);
  const used = Object.values(design.document.ends.pinout).filter((e) => e.connector === id).length;
  const set = (values: Record<string, unknown>, label: string) =>
    edit(
      Object.entries(values).map(([field, value]) => ({
        op: "replace" as const,
        path: pointer("ends", "connectors", id, field),
        value,
      })),
      `${id} ${label}`,
    );
  const points = inOrder(design.document.route.points);
  const others = inOrder(design.document.ends.connectors).filter(([k]) => k !== id);
  const fanOut = family?.accessories.find((a) => a.fan_out_mm)?.fan_out_mm;
  const halved = family && !family.loose && !family.genderless;
  return (
    <div className="text-plain">
      <TypedField
        narrow
        label="Name"
        value={connector.name}
        placeholder="rear port"
        onCommit={(v) => set({ name: v }, v ? `is ${v}` : "has no name")}
      />
      <ChoiceField
        narrow
        label="Connector series"
        value={connector.family}
        choices={[
          ...(family ? [] : [{ value: connector.family, label: `${connector.family}, not held here` }]),
          ...catalogue.connectors.map((f) => ({ value: f.code, label: `${f.code}, ${f.name}` })),
        ]}
        onCommit={(code) => {
          const chosen = catalogue.connectors.find((f) => f.code === code);
          const ways = chosen?.ways.find((w) => w >= Math.max(used, 1)) ?? chosen?.ways.at(-1) ?? connector.ways;
          const shell = chosen?.loose ? "none" : connector.shell === "none" ? "plug" : connector.shell;
          return mate({
            connector: id,
            family: code,
            ways,
            shell,
            contact_gender: connector.contact_gender,
            key: "",
            itself: true,
          });
        }}
      />
      <ChoiceField
        narrow
        label="Ways"
        value={String(connector.ways)}
        choices={(family?.ways ?? [connector.ways]).map((w) => ({ value: String(w), label: String(w) }))}
        onCommit={(w) => act("connector", `${id} ${w} way`)}
      />
      {halved && (
        <>
          <ChoiceField
            narrow
            label="Shell"
            value={connector.shell}
            choices={[
              { value: "plug", label: "plug" },
              { value: "receptacle", label: "receptacle" },
            ]}
            onCommit={(v) => set({ shell: v }, `shell ${v}`)}
          />
          <ChoiceField
            narrow
            label="Contacts"
            value={connector.contact_gender}
            choices={[
              { value: "socket", label: "sockets" },
              { value: "pin", label: "pins" },
            ]}
            onCommit={(v) => set({ contact_gender: v }, `carries ${v}s`)}
          />
        </>
      )}
      {family && family.keyings.length > 1 && (
        <ChoiceField
          narrow
          label="Key"
          value={connector.key}
          choices={[{ value: "", label: "not said" }, ...family.keyings.map((k) => ({ value: k, label: k }))]}
          onCommit={(v) => set({ key: v }, v ? `key ${v}` : "key not said")}
        />
      )}
      {family?.meets_its_like && (
        <FlagField
          narrow
          label="Turned over"
          value={connector.turned_over}
          hint="its contacts lie the other way up than usual; both halves alike"
          onCommit={(v) => set({ turned_over: v }, v ? "contacts turned over" : "contacts as usual")}
        />
      )}
      {family && family.studs.length > 0 && (
        <ChoiceField
          narrow
          label="Stud"
          value={connector.stud ?? family.studs[0] ?? ""}
          choices={family.studs.map((s) => ({ value: s, label: s }))}
          onCommit={(v) => set({ stud: v }, `stud ${v}`)}
        />
      )}
      <ChoiceField
        narrow
        label="At point"
        value={connector.point ?? ""}
        choices={[
          { value: "", label: "not placed" },
          ...points.map(([p, x]) => ({ value: p, label: x.name && x.name !== p ? `${p} ${x.name}` : p })),
        ]}
        onCommit={(v) => set({ point: v || null }, v ? `at ${v}` : "taken off the route")}
      />
      {!family?.loose && (
        <button className="quiet mt-1" aria-expanded={more} onClick={() => setMore(!more)}>
          {more ? "less of it" : "its mate, marks and accessories"}
        </button>
      )}
      {more && family && (
        <>
          <TypedField
            narrow
            label="Mark"
            value={connector.mark}
            placeholder="red sleeve"
            hint="colour or label that tells it from its likes"
            onCommit={(v) => set({ mark: v }, `marked ${v}`)}
          />
          <FlagField
            narrow
            label="On a panel"
            value={connector.panel}
            hint="fixed, it does not swing on its wires"
            onCommit={(v) => set({ panel: v }, v ? "is on a panel" : "swings")}
          />
          <ChoiceField
            narrow
            label="Meets"
            value={connector.meets ?? ""}
            choices={[
              { value: "", label: "a device" },
              ...others.map(([k]) => ({ value: k, label: `${k}, on this harness` })),
            ]}
            onCommit={(v) => set({ meets: v || null }, v ? `meets ${v}` : "meets a device")}
          />
          <ChoiceField
            narrow
            label="Same as"
            value={connector.same_as ?? ""}
            choices={[
              { value: "", label: "no extension" },
              ...others.map(([k]) => ({ value: k, label: `${k}: the other end of an extension` })),
            ]}
            onCommit={(v) => set({ same_as: v || null }, v ? `the same as ${v}` : "no extension")}
          />
          <TypedField
            narrow
            figures
            label="Cable"
            value={connector.cable_mm === null ? "" : length(connector.cable_mm, units)}
            placeholder="as calculated"
            hint="diameter of what enters the rear"
            onCommit={(v) => set({ cable_mm: v.trim() === "" ? null : v }, "cable")}
          />
          {fanOut && (
            <TypedField
              narrow
              figures
              label="Fan-out"
              value={connector.fan_out_mm === null ? "" : length(connector.fan_out_mm, units)}
              placeholder={`${length(fanOut[0], units)} to ${length(fanOut[1], units)}`}
              hint="how far the jacket is off its cores"
              onCommit={(v) => set({ fan_out_mm: v.trim() === "" ? null : v }, "fan-out")}
            />
          )}
          {family.accessories.some((a) => a.kind === "backshell") && (
            <ChoiceField
              narrow
              label="Shield"
              value={connector.shield ?? ""}
              choices={[
                { value: "", label: "none on its backshell" },
                ...inOrder(design.document.circuits.groups).flatMap(([, g]) =>
                  g.shield ? [{ value: g.shield, label: `${g.shield}, of ${g.name || g.kind}` }] : [],
                ),
              ]}
              onCommit={(v) => set({ shield: v || null }, v ? `lands ${v}` : "lands no shield")}
            />
          )}
          <Accessories id={id} />
          <Mate id={id} />
          <ChoiceField
            narrow
            label="Known from"
            value={connector.mate_from}
            choices={[
              { value: "not said", label: "not said" },
              { value: "marking", label: "the marking on it" },
              { value: "document", label: "a document" },
              { value: "tried", label: "a sample tried on it" },
            ]}
            hint="how it is known what this connector meets"
            onCommit={(v) => set({ mate_from: v }, `mate known from: ${v}`)}
          />
          <ChoiceField
            narrow
            label="Joined"
            value={connector.joined}
            choices={[
              { value: "once", label: "once, and left so" },
              { value: "at service", label: "again at service" },
              { value: "at every use", label: "at every use" },
            ]}
            hint="how often it is parted and joined again"
            onCommit={(v) => set({ joined: v }, `joined ${v}`)}
          />
        </>
      )}
    </div>
  );
}

/** What is sold apart and wanted on it. */
function Accessories({ id }: { id: string }) {
  const { design } = useDesign();
  const { doIt } = useActs();
  const catalogue = useCatalogue();
  const connector = design.document.ends.connectors[id];
  const family = catalogue?.connectors.find((f) => f.code === connector?.family);
  const fits = family?.accessories.filter((a) => a.ways.length === 0 || a.ways.includes(connector?.ways ?? 0)) ?? [];
  if (!connector || fits.length === 0) return null;
  return (
    <fieldset className="mt-2 border-t border-faint pt-1">
      <legend className="float-left w-[92px] text-second">Accessories</legend>
      <div className="ml-[104px]">
        {fits.map((a) => (
          <label key={a.code} className="flex items-baseline gap-2 py-0.5">
            <input
              type="checkbox"
              className="h-4 w-4 accent-(--ink)"
              disabled={a.required}
              checked={a.required || a.code in connector.accessories}
              onChange={(e) => {
                const path = pointer("ends", "connectors", id, "accessories", a.code);
                void doIt(
                  e.target.checked ? [{ op: "add", path, value: { order: 1 } }] : [{ op: "remove", path }],
                  `${id} ${a.code}`,
                );
              }}
            />
            <span>
              {a.description}{" "}
              <span className="text-fine text-second">
                {a.required ? (a.included ? "comes with it" : "required, bought apart") : "bought apart"}
              </span>
            </span>
          </label>
        ))}
      </div>
    </fieldset>
  );
}

/** What is fitted on the device is said; this half becomes the one that meets it. */
function Mate({ id }: { id: string }) {
  const { design } = useDesign();
  const catalogue = useCatalogue();
  const { mate } = usePinout();
  const connector = design.document.ends.connectors[id];
  const [said, setSaid] = useState<Partial<Schemas["Half"]>>({});
  const likely = useHalf(id, said.family ?? "");
  const [problem, setProblem] = useState<Problem | null>(null);
  if (!catalogue || !connector || !likely.data) return null;
  const there = { ...likely.data.half, ...said };
  const family = catalogue.connectors.find((f) => f.code === there.family);
  const set = (part: Partial<Schemas["Half"]>) => setSaid({ ...said, ...part });
  return (
    <fieldset className="mt-3 border border-rule bg-sheet p-3">
      <legend className="px-1 font-heading text-lead">What is fitted on the device?</legend>
      <div className="grid grid-cols-2 gap-2">
        <select
          aria-label="Series on the device"
          className="inkbox col-span-2"
          value={there.family}
          onChange={(e) => setSaid({ family: e.target.value })}
        >
          {catalogue.connectors.map((f) => (
            <option key={f.code} value={f.code}>{`${f.code}, ${f.name}`}</option>
          ))}
        </select>
        <select
          aria-label="Ways on the device"
          className="inkbox"
          value={there.ways}
          onChange={(e) => set({ ways: Number(e.target.value) })}
        >
          {family?.ways.map((w) => (
            <option key={w} value={w}>{`${w} ways`}</option>
          ))}
        </select>
        {!family?.loose && !family?.genderless && (
          <select
            aria-label="Shell and contacts on the device"
            className="inkbox"
            value={`${there.shell} ${there.contact_gender}`}
            onChange={(e) => {
              const [shell, gender] = e.target.value.split(" ");
              set({
                shell: shell === "plug" ? "plug" : "receptacle",
                contact_gender: gender === "pin" ? "pin" : "socket",
              });
            }}
          >
            {["receptacle pin", "plug socket", "receptacle socket", "plug pin"].map((v) => (
              <option key={v} value={v}>{`${v.replace(" ", " with ")}s`}</option>
            ))}
          </select>
        )}
        {family && family.keyings.length > 1 && (
          <select
            aria-label="Key on the device"
            className="inkbox"
            value={there.key}
            onChange={(e) => set({ key: e.target.value })}
          >
            <option value="">key not known</option>
            {family.keyings.map((k) => (
              <option key={k} value={k}>{`key ${k}`}</option>
            ))}
          </select>
        )}
        <button
          className="press"
          onClick={() => void mate({ connector: id, ...there, itself: false }).then(setProblem)}
        >
          Fit the half that meets it
        </button>
      </div>
      {problem && (
        <p role="alert" className="mt-1 text-madder">
          {problem.detail}
        </p>
      )}
    </fieldset>
  );
}
