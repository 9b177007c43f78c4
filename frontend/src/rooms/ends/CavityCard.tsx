import { useState } from "react";
import { pointer } from "../../api/client";
import { useDesign, useActs, useWhy } from "../../api/design";
import { useEnd, useShop } from "../../api/ends";
import { Fact, Sheet } from "../../components/Sheet";
import { Swatch } from "../../components/Swatch";
import { ChoiceField, TypedField } from "../../components/TypedField";
import { amperes, fine, trim, unitsOf } from "../../format";
import type { Cavity, Connector } from "./types";
import { StripPicture } from "../../components/StripPicture";

const ANY_WAY = "any way round";

/** One cavity: the wire, what goes on it, the tool and its setting, and the strip to make. */
export function CavityCard({ connector, cavity }: { connector: Connector; cavity: Cavity }) {
  const { design } = useDesign();
  const { askWhy } = useWhy();
  const units = unitsOf(design.document);
  const wire = cavity.wire ? design.evaluation.wire.wires[cavity.wire] : undefined;
  const title = connector.shell === "none" ? `Terminal ${cavity.cavity}` : `Cavity ${cavity.cavity}`;
  if (!wire) {
    return (
      <Sheet label={title}>
        <h2 className="text-head">{title}</h2>
        <p className="mt-2 text-second">
          {cavity.pin
            ? `${cavity.pin_name} is here, but no wire reaches it yet.`
            : cavity.cavity_plug
              ? `Spare. Blank plug ${cavity.cavity_plug} keeps the water out; it is on the bill.`
              : "Spare, left open."}
        </p>
        {!cavity.pin && connector.shell !== "none" && (
          <Spare connector={connector.id} cavity={cavity.cavity} plug={cavity.cavity_plug} />
        )}
      </Sheet>
    );
  }
  const far = wire.from_text.startsWith(`${connector.id}-${cavity.cavity} `) ? wire.to_text : wire.from_text;
  const window = cavity.conductor_window_mm2;
  const seal = cavity.seal_window_mm;
  return (
    <Sheet label={title}>
      <h2 className="text-head">{title}</h2>
      <dl className="mt-2">
        <Fact name="wire">
          <strong className="font-figures">{wire.label}</strong> {wire.gauge} <Swatch colour={wire.colour} width={36} />{" "}
          <button
            className="quiet text-plain"
            aria-label={`Why ${wire.gauge}?`}
            onClick={() => askWhy("gauge", wire.key)}
          >
            why
          </button>
        </Fact>
        <Fact name="other end">{far}</Fact>
        <Fact name="carries">
          {wire.carries_a
            ? `${amperes(wire.carries_a)} of the contact's ${amperes(cavity.contact_a)}`
            : `no load; the contact is good for ${amperes(cavity.contact_a)}`}
        </Fact>
        <Fact name="conductor">
          {trim(wire.area_mm2, 2)} mm²{window ? `, contact takes ${window[0]} to ${window[1]}` : ""}
        </Fact>
        <Fact name="insulation">
          {fine(wire.od_mm, units, 2)}
          {seal ? `, seal takes ${fine(seal[0], units, 2)} to ${fine(seal[1], units, 2)}` : ", no seal"}
        </Fact>
        <Fact name="contact">
          {cavity.contact ?? "none fits"}
          {cavity.contact && cavity.pin && (
            <>
              {" "}
              <button
                className="quiet text-plain"
                aria-label={`Why ${cavity.contact}?`}
                onClick={() => askWhy("contact", `${cavity.pin} ${wire.key}`)}
              >
                why
              </button>
            </>
          )}
        </Fact>
        <Fact name="seal">{cavity.seal ?? "none"}</Fact>
      </dl>
      {!cavity.fits && <p className="mt-1 text-madder">This does not fit. See the findings.</p>}
      <StripPicture
        colour={wire.colour}
        odMm={wire.od_mm}
        conductorMm={wire.conductor_mm}
        stripMm={cavity.strip_mm}
        toleranceMm={cavity.strip_tolerance_mm}
      />
      {cavity.pin && cavity.contact && <HowMade pin={cavity.pin} wire={wire.key} />}
      <p className="mt-3 border-t border-rule pt-2 text-plain">
        <strong>If it will not go</strong>, stop and look. Do not force it.
      </p>
    </Sheet>
  );
}

/** What is meant with an unused way. */
function Spare({ connector, cavity, plug }: { connector: string; cavity: string; plug: string | null }) {
  const { design } = useDesign();
  const { edit } = useActs();
  const had = design.document.ends.connectors[connector]?.spares[cavity];
  const path = pointer("ends", "connectors", connector, "spares", cavity);
  const keep = (change: { state?: string; reason?: string }) =>
    edit(
      [
        {
          op: had ? "replace" : "add",
          path,
          value: {
            order: had?.order ?? 1,
            state: change.state ?? had?.state ?? "reserved",
            reason: change.reason ?? had?.reason ?? "",
          },
        },
      ],
      `${connector}-${cavity} ${change.state ?? "kept"}`,
    );
  return (
    <div className="mt-3">
      <ChoiceField
        narrow
        label="it is"
        value={had?.state ?? (plug ? "plugged" : "open")}
        choices={[
          { value: "plugged", label: "plugged" },
          { value: "reserved", label: "kept for later" },
          { value: "open", label: "left open" },
        ]}
        onCommit={(v) => keep({ state: v })}
      />
      <TypedField
        narrow
        label="for"
        value={had?.reason ?? ""}
        placeholder="horn, next winter"
        hint="kept ways stay free when ways are given out"
        onCommit={(v) => keep({ reason: v, ...(had ? {} : { state: "reserved" }) })}
      />
    </div>
  );
}

/** The tool, nest and depth; what may be chosen otherwise; what was proven here. */
function HowMade({ pin, wire }: { pin: string; wire: string }) {
  const { design } = useDesign();
  const { edit } = useActs();
  const { data } = useEnd(pin, wire);
  const { prove } = useShop();
  const [noting, setNoting] = useState(false);
  const [refused, setRefused] = useState("");
  const end = data?.end;
  if (!end || end.ref !== pin || end.wire_key !== wire)
    return <p className="text-plain text-second">Looking up its tool ...</p>;
  const units = unitsOf(design.document);
  const least = fine(end.copper_least_mm, units);
  const most = fine(end.copper_most_mm, units);
  const entry = design.document.ends.pinout[pin];
  const at = (field: string) => pointer("ends", "pinout", pin, field);
  return (
    <>
      <dl className="border-t border-rule pt-2 text-base">
        <Fact name="tool">
          {end.tool ? (
            <>
              <strong className="font-figures">{end.tool}</strong>{" "}
              <span className="text-fine text-second">{end.tool_owned ? "owned" : "not owned"}</span>
              <span className="block text-fine text-second">{end.tool_name}</span>
            </>
          ) : (
            <span className="text-madder">none on record</span>
          )}
        </Fact>
        {end.tool && end.nest !== "-" && (
          <Fact name="crimp die (nest)">
            <strong className="font-figures">{end.nest}</strong>
            {end.depth ? `, ${end.depth}` : ""}
            <span className="block text-fine text-second">{end.proven || end.tool_source}</span>
          </Fact>
        )}
        <Fact name="copper">
          {end.joint === "clamp"
            ? `no more than ${most} shows outside the clamp`
            : end.kind === "end"
              ? `insulation shows ${least} to ${most} past the tabs`
              : `${least} to ${most} shows beyond the barrel`}
        </Fact>
        {end.torque_nm !== null && <Fact name="torque">{end.torque_nm} N m</Fact>}
        {end.turn !== ANY_WAY && (
          <Fact name="turn">{end.turn || <span className="text-second">not on record: try one on a scrap</span>}</Fact>
        )}
        {end.strippers.length > 0 && (
          <Fact name="stripper">{end.strippers.join(" or ")}; find the notch on a scrap</Fact>
        )}
        {end.extraction && <Fact name="release">{end.extraction}</Fact>}
        <Fact name="kind">
          {end.kind}, {end.plating}, {end.cycles} matings{end.reusable ? ", may be used again" : ""}
        </Fact>
        {end.pull_n !== null && (
          <Fact name="pull-out">
            {trim(end.pull_n, 0)} N, of samples only
            <span className="block text-fine text-second">
              {end.pull_source}. Pulled to it, a contact is spoiled: here, a tug.
            </span>
          </Fact>
        )}
      </dl>
      {end.steps.length > 0 && (
        <ol className="mt-1 list-decimal border-t border-rule pt-2 pl-5 text-plain">
          {end.steps.map((step) => (
            <li key={step}>{step}</li>
          ))}
        </ol>
      )}
      {(end.others.length > 0 || end.fixed) && (
        <ChoiceField
          narrow
          label="take"
          value={entry?.contact ?? ""}
          choices={[
            { value: "", label: end.fixed ? "the program's choice" : `${end.contact}, chosen` },
            ...[...(end.fixed ? [end.contact] : []), ...end.others].map((c) => ({ value: c, label: `${c}, fixed` })),
          ]}
          onCommit={(v) =>
            edit([{ op: "replace", path: at("contact"), value: v || null }], v ? `${pin} in ${v}` : `${pin} as chosen`)
          }
        />
      )}
      {end.in_cable && end.turn !== ANY_WAY && (
        <TypedField
          narrow
          figures
          label="turned"
          value={typeof entry?.clock_deg !== "number" ? "" : String(entry.clock_deg)}
          placeholder="as the others"
          hint="degrees, against the contacts on the other cores of its cable"
          onCommit={(v) => edit([{ op: "replace", path: at("clock_deg"), value: v.trim() || null }], `${pin} turned`)}
        />
      )}
      {end.kind === "end" && (
        <TypedField
          narrow
          figures
          label="turned"
          value={typeof entry?.clock_deg !== "number" ? "" : String(entry.clock_deg)}
          placeholder="degrees"
          hint="against the elbow at the other end, seen along the lead"
          onCommit={(v) => edit([{ op: "replace", path: at("clock_deg"), value: v.trim() || null }], `${pin} turned`)}
        />
      )}
      {end.methods.length > 0 && (
        <ChoiceField
          narrow
          label="joined"
          value={entry?.joint ?? "as its part"}
          choices={[
            { value: "as its part", label: "as its part says" },
            ...end.methods
              .filter((m) => m.suits || m.name === entry?.joint)
              .map((m) => ({ value: m.name, label: m.against.length > 0 ? `${m.name}: not here` : m.name })),
          ]}
          hint="solder where it shakes, and on battery lugs, is judged by the house rules"
          onCommit={(v) => edit([{ op: "replace", path: at("joint"), value: v }], `${pin} ${v}`)}
        />
      )}
      {end.methods
        .filter((m) => m.chosen)
        .map((m) => (
          <p key={m.name} className="text-fine text-second">
            {m.prepare}
            {m.against.map((words) => (
              <span key={words} className="block text-ochre">
                {words}
              </span>
            ))}
          </p>
        ))}
      {noting ? (
        <form
          className="mt-2 grid grid-cols-2 gap-2 text-plain"
          onSubmit={(e) => {
            e.preventDefault();
            const typed = new FormData(e.currentTarget);
            const word = (name: string) => {
              const v = typed.get(name);
              return typeof v === "string" ? v : "";
            };
            void prove({
              contact: end.contact,
              wire: end.wire,
              tool: word("tool"),
              nest: word("nest"),
              depth: word("depth"),
              note: word("note"),
            }).then((p) => {
              setRefused(p ? p.detail : "");
              setNoting(p !== null);
            });
          }}
        >
          <input name="tool" className="inkbox" aria-label="Tool" defaultValue={end.tool} placeholder="tool" />
          <input
            name="nest"
            className="inkbox"
            aria-label="Crimp die (nest)"
            defaultValue={end.nest}
            placeholder="crimp die"
          />
          <input name="depth" className="inkbox" aria-label="Depth" defaultValue={end.depth} placeholder="depth" />
          <input name="note" className="inkbox" aria-label="Note" placeholder="held 9 kg, 12 May" />
          {refused && (
            <p role="alert" className="col-span-2 text-madder">
              {refused}
            </p>
          )}
          <button className="press" type="submit">
            Note it
          </button>
          <button
            className="quiet"
            type="button"
            onClick={() => {
              setRefused("");
              setNoting(false);
            }}
          >
            leave it
          </button>
        </form>
      ) : (
        <p className="mt-1 text-plain">
          <button className="quiet" onClick={() => setNoting(true)}>
            {end.proven ? "change what was proven here" : "note a crimp die proven here"}
          </button>
        </p>
      )}
    </>
  );
}
