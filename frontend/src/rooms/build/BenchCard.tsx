import { useDesign } from "../../api/design";
import type { Card, Step } from "../../api/work";
import { Face, type FaceWire } from "../../components/Face";
import { StripPicture } from "../../components/StripPicture";
import { Swatch } from "../../components/Swatch";
import { length, unitsOf } from "../../format";
import { groupOf } from "./groups";

interface Props {
  card: Card;
  steps: Step[];
  done: Set<string>;
  lit: string | undefined;
  /** Whose bench it lies on, where it is not this one. */
  elsewhere: string | null;
  before: Card | undefined;
  after: Card | undefined;
}

/** One wire's end, or one batch: who it is on the left, what is done on the right, one step lit. */
export function BenchCard({ card, steps, done, lit, elsewhere, before, after }: Props) {
  return (
    <div className="mt-4 grid flex-1 content-start gap-x-10 gap-y-5 min-[900px]:grid-cols-[minmax(300px,38%)_minmax(0,1fr)]">
      <div>
        {card.kind === "end" ? <EndHead steps={steps} /> : <BatchHead card={card} />}
        {elsewhere !== null && (
          <p className="mt-4 border border-ochre px-4 py-2 text-head text-ochre">
            {elsewhere} has this card. Go on to another.
          </p>
        )}
        <p className="mt-5 text-plain text-second">
          {before && <>last: {titleOf(before)}</>}
          {before && after && <br />}
          {after && <>next: {titleOf(after)}</>}
        </p>
      </div>
      <ol aria-label="Steps">
        {steps.map((step, n) => (
          <StepLine key={step.id} step={step} nth={n + 1} done={done.has(step.id)} lit={step.id === lit} />
        ))}
      </ol>
    </div>
  );
}

function StepLine({ step, nth, done, lit }: { step: Step; nth: number; done: boolean; lit: boolean }) {
  const { design } = useDesign();
  const wires = design.evaluation.wire.wires;
  const [first] = step.wires;
  const shows =
    step.kind === "cut" && step.wires.length === 1 && first !== undefined ? wires[first]?.colour : undefined;
  return (
    <li
      className={`flex gap-5 border-b border-rule py-3 ${done ? "text-second" : ""}`}
      aria-current={lit ? "step" : undefined}
    >
      <span className={`w-[34px] shrink-0 font-figures text-head ${done ? "text-verdigris" : "text-second"}`}>
        {done ? "✓" : nth}
      </span>
      <div className="min-w-0">
        <p className={lit ? "text-lit leading-snug" : "text-head leading-snug"}>
          {step.words} {shows && <Swatch colour={shows} width={lit ? 90 : 60} letters={false} />}
        </p>
        {!done && step.look && <p className="mt-0.5 text-lead text-figure">{step.look}</p>}
        {lit && step.kind === "strip" && step.end && <TrueStrip step={step} />}
        {lit && step.caution && <p className="mt-0.5 text-lead text-madder">{step.caution}</p>}
      </div>
    </li>
  );
}

const RULER_KEY = "inkthread-ruler";

/** The strip at its true size on this screen, once the ruler of the faces has been measured. */
function TrueStrip({ step }: { step: Step }) {
  const { design } = useDesign();
  const wire = design.evaluation.wire.wires[step.wires[0] ?? ""];
  const connector = design.evaluation.ends.connectors[step.place];
  const cavity = connector?.cavities.find((c) => c.pin === step.end);
  if (!wire || !cavity) return null;
  return (
    <StripPicture
      colour={wire.colour}
      odMm={wire.od_mm}
      conductorMm={wire.conductor_mm}
      stripMm={cavity.strip_mm}
      toleranceMm={cavity.strip_tolerance_mm}
      scale={100 / (Number(window.localStorage.getItem(RULER_KEY)) || 100)}
    />
  );
}

/** Who the end is: its wire in large, its colours, where it goes, the face from the side held in the hand. */
function EndHead({ steps }: { steps: Step[] }) {
  const { design } = useDesign();
  const step = steps.at(-1);
  const key = step?.wires[0];
  const wire = key !== undefined ? design.evaluation.wire.wires[key] : undefined;
  const connector = step ? design.evaluation.ends.connectors[step.place] : undefined;
  const cut = design.evaluation.cut.cuts.find((c) => c.wire === key);
  if (!step || !wire) return null;
  const here = `${step.place}-${step.cavity} `;
  const ends = [wire.from_text, wire.to_text];
  return (
    <>
      <p className="break-words font-figures text-huge font-extrabold leading-none">{wire.label}</p>
      <p className="mt-4 flex flex-wrap items-center gap-x-5 text-far">
        <Swatch colour={wire.colour} width={140} letters={false} />
        <strong className="font-figures">{wire.colour}</strong>
        <strong className="font-figures">{wire.gauge}</strong>
      </p>
      <p className="mt-3 text-far leading-snug">
        the end that goes to{" "}
        <strong>
          {step.place} cavity {step.cavity}
        </strong>
        {tail(
          ends.find((text) => text.startsWith(here)),
          here,
        )}
      </p>
      <p className="mt-1 text-lead text-second">its other end: {ends.find((text) => !text.startsWith(here)) ?? "–"}</p>
      {cut && (
        <p className="mt-2 text-lead text-second">
          cut length{" "}
          <strong className="font-figures text-figure">{length(cut.cut_mm, unitsOf(design.document))}</strong>
        </p>
      )}
      {connector && <HandFace connector={connector} cavity={step.cavity} />}
    </>
  );
}

/** What is said of a place after its name: ``, lambda sensor``. */
function tail(text: string | undefined, name: string): string {
  return text ? `, ${text.slice(name.length)}` : "";
}

type Connector = ReturnType<typeof useDesign>["design"]["evaluation"]["ends"]["connectors"][string];

function HandFace({ connector, cavity }: { connector: Connector; cavity: string }) {
  const { design } = useDesign();
  const face = design.evaluation.ends.faces[connector.face];
  if (!face || connector.shell === "none") return null;
  const wires: Record<string, FaceWire> = {};
  for (const c of connector.cavities) {
    const own = c.wire ? design.evaluation.wire.wires[c.wire] : undefined;
    if (own && c.cavity === cavity) wires[c.cavity] = { cavity: c.cavity, colour: own.colour, label: own.label };
  }
  return (
    <div className="mt-3 max-w-[360px]">
      <Face
        side="wire"
        caption={face.wire_side.caption}
        width={face.width_mm}
        height={face.height_mm}
        diameter={face.cavity_diameter_mm}
        outline={face.outline}
        cavities={face.wire_side.cavities}
        marks={face.wire_marks}
        wires={wires}
        plugged={new Set()}
        gender={connector.contact_gender}
        loose={false}
        chosen={cavity}
      />
    </div>
  );
}

function BatchHead({ card }: { card: Card }) {
  const { design } = useDesign();
  const connector = design.evaluation.ends.connectors[card.place];
  return (
    <>
      <p className="text-far text-second">{WHAT[card.kind] ?? groupOf(card)}</p>
      <p className="break-words font-figures text-title font-extrabold leading-tight">{card.title}</p>
      {connector?.name && <p className="mt-2 text-far">{connector.name}</p>}
    </>
  );
}

const WHAT: Record<string, string> = {
  cut: "cut off one spool",
  mark: "mark",
  twist: "twist together",
  prepare: "prepare the cable",
  splice: "make the splice",
  strip: "strip, all of one setting",
  crimp: "crimp, all of one setting",
  thread: "lead over the bundle",
  through: "lead over the bundle",
  begin: "before the first contact",
  open: "before the first contact",
  close: "when all contacts are in",
  dress: "dress the branch",
  label: "shrink the label",
};

function titleOf(card: Card): string {
  return card.kind === "end" ? `end of ${card.title}` : `${WHAT[card.kind] ?? card.kind}: ${card.title}`;
}
