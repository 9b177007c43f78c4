import { useParams } from "react-router";
import { Leaves } from "../../components/Leaves";
import { Room } from "../../components/Room";
import { AgainstLeaf } from "./AgainstLeaf";
import { BillLeaf } from "./BillLeaf";
import { DrawersLeaf } from "./DrawersLeaf";
import { OrderLeaf } from "./OrderLeaf";
import { ToolsLeaf } from "./ToolsLeaf";
import { WaysLeaf } from "./WaysLeaf";
import { LEAVES } from "../../components/leaves";

/** What is bought, from whom, out of which drawer, with which tools; and what else it could be made of. */
export function PartsRoom() {
  const { leaf = "" } = useParams();
  return (
    <Room room="parts" title="Parts">
      <Leaves room="parts" leaves={LEAVES.parts} />
      {leaf === "bill" ? (
        <BillLeaf />
      ) : leaf === "drawers" ? (
        <DrawersLeaf />
      ) : leaf === "tools" ? (
        <ToolsLeaf />
      ) : leaf === "ways" ? (
        <WaysLeaf />
      ) : leaf === "against" ? (
        <AgainstLeaf />
      ) : (
        <OrderLeaf />
      )}
    </Room>
  );
}
