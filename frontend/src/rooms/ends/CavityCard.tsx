import type { Evaluation } from "../../api/client";
import { useDesign } from "../../api/design";
import { Fact, Sheet } from "../../components/Room";
import { Swatch } from "../../components/Swatch";
import { amperes, trim } from "../../format";
import { StripPicture } from "./StripPicture";

type Connector = Evaluation["ends"]["connectors"][string];

/** One cavity: the wire, the contact and seal on it, and the strip to make. */
export function CavityCard({ connector, cavity }: { connector: Connector; cavity: Connector["cavities"][number] }) {
  const { design, askWhy } = useDesign();
  const wire = cavity.wire ? design.evaluation.wire.wires[cavity.wire] : undefined;
  const title = connector.shell === "none" ? `Terminal ${cavity.cavity}` : `Cavity ${cavity.cavity}`;
  if (!wire) {
    return (
      <Sheet label={title}>
        <h2 className="text-[21px]">{title}</h2>
        <p className="mt-2 text-second">
          {cavity.pin
            ? `${cavity.pin_name} is here, but no wire reaches it yet.`
            : cavity.plug
              ? `Spare. Blank plug ${cavity.plug} keeps the water out; it is on the bill.`
              : "Spare."}
        </p>
      </Sheet>
    );
  }
  const far = wire.from_text.startsWith(`${connector.id}-${cavity.cavity} `) ? wire.to_text : wire.from_text;
  const window = cavity.conductor_window_mm2;
  const seal = cavity.seal_window_mm;
  return (
    <Sheet label={title}>
      <h2 className="text-[21px]">{title}</h2>
      <dl className="mt-2">
        <Fact name="wire">
          <strong className="font-figures">{wire.label}</strong> {wire.gauge} <Swatch colour={wire.colour} width={36} />
        </Fact>
        <Fact name="other end">{far}</Fact>
        <Fact name="carries">
          {wire.carries_a ? `${amperes(wire.carries_a)} of the contact's ${amperes(cavity.contact_a)}` : `no load; the contact is good for ${amperes(cavity.contact_a)}`}
        </Fact>
        <Fact name="conductor">
          {trim(wire.area_mm2, 2)} mm²{window ? `, contact takes ${window[0]} to ${window[1]}` : ""}
        </Fact>
        <Fact name="insulation">
          {trim(wire.od_mm, 2)} mm{seal ? `, seal takes ${seal[0]} to ${seal[1]}` : ", no seal"}
        </Fact>
        <Fact name="contact">{cavity.contact ?? "none fits"}</Fact>
        <Fact name="seal">{cavity.seal ?? "none"}</Fact>
      </dl>
      {!cavity.fits && <p className="mt-1 text-madder">This does not fit. See the findings.</p>}
      <StripPicture colour={wire.colour} odMm={wire.od_mm} conductorMm={wire.conductor_mm} stripMm={cavity.strip_mm} toleranceMm={cavity.strip_tolerance_mm} />
      <p className="flex gap-4 text-[14px]">
        <button className="quiet" onClick={() => askWhy("gauge", wire.key)}>
          Why {wire.gauge}?
        </button>
        {cavity.contact && cavity.pin && (
          <button className="quiet" onClick={() => askWhy("contact", cavity.pin ?? "")}>
            Why {cavity.contact}?
          </button>
        )}
      </p>
      <p className="mt-3 border-t border-rule pt-2 text-[14px]">
        {connector.shell !== "none" && (
          <>
            <strong>Listen for</strong> one click, tug, then shut the lock.{" "}
          </>
        )}
        <strong>If it will not go</strong>, stop and look. Do not force it.
      </p>
    </Sheet>
  );
}
