import { useParams, useSearchParams } from "react-router";
import { useDesign } from "../../api/design";
import { usePiece, usePieces, usePlan } from "../../api/prove";
import { Leaves } from "../../components/Leaves";
import { Room } from "../../components/Room";
import { Diagnosis } from "./Diagnosis";
import { LaterLeaf } from "./LaterLeaf";
import { MachineLeaf } from "./MachineLeaf";
import { PiecesLeaf } from "./PiecesLeaf";
import { SamplesLeaf } from "./SamplesLeaf";
import { SheetLeaf } from "./SheetLeaf";
import { pieceSaid } from "./said";
import { ToolsLeaf } from "./ToolsLeaf";
import { VoltsLeaf } from "./VoltsLeaf";
import { LEAVES } from "../../components/leaves";

/** What the harness is proved by: what is measured, what was read, what explains it, who signed. */
export function ProveRoom() {
  const { leaf = "" } = useParams();
  const [asked, setAsked] = useSearchParams();
  const { design } = useDesign();
  const pieces = usePieces().data;
  // The piece that is asked for, else the newest: a harness that is proved is seldom an old one.
  const serial = asked.get("piece") ?? pieces?.pieces.at(-1)?.serial ?? null;
  const { data: state } = usePiece(serial);
  const byTester = state?.readings.some((r) => r.how === "tester") ?? false;
  const plan = usePlan(byTester ? "tester" : "hand", state?.bench_c ?? 20).data;
  const choose = (name: string) => setAsked({ piece: name }, { replace: true });
  return (
    <Room
      room="prove"
      title="Prove"
      sentence={state ? pieceSaid(state) : (design.evaluation.rooms.prove?.sentence ?? "")}
      beside={state && state.explanations.length + state.left_over.length > 0 ? <Diagnosis state={state} /> : undefined}
    >
      <Leaves room="prove" leaves={LEAVES.prove} />
      {leaf === "machine" ? (
        <MachineLeaf state={state ?? null} />
      ) : leaf === "later" ? (
        <LaterLeaf />
      ) : leaf === "tools" ? (
        <ToolsLeaf />
      ) : !plan || !pieces ? (
        <p className="text-second">Working the tests out ...</p>
      ) : leaf === "volts" ? (
        <VoltsLeaf />
      ) : leaf === "samples" ? (
        <SamplesLeaf plan={plan} state={state ?? null} />
      ) : leaf === "pieces" ? (
        <PiecesLeaf pieces={pieces} state={state ?? null} onChoose={choose} />
      ) : (
        <SheetLeaf plan={plan} pieces={pieces} state={state ?? null} onChoose={choose} />
      )}
    </Room>
  );
}
