import { useParams } from "react-router";
import { Leaves } from "../../components/Leaves";
import { Room } from "../../components/Room";
import { AgainstLeaf } from "./AgainstLeaf";
import { BillLeaf } from "./BillLeaf";
import { DrawersLeaf } from "./DrawersLeaf";
import { OrderLeaf } from "./OrderLeaf";
import { ToolsLeaf } from "./ToolsLeaf";
import { WaysLeaf } from "./WaysLeaf";

const LEAVES = [
  ["", "To order"],
  ["bill", "The bill"],
  ["drawers", "Drawers and kits"],
  ["tools", "Tools"],
  ["ways", "Made otherwise"],
  ["against", "Held against"],
] as const;

/** What is bought, from whom, out of which drawer, with which tools; and what else it could be made of. */
export function PartsRoom() {
  const { leaf = "" } = useParams();
  return (
    <Room room="parts" title="Parts">
      <Leaves room="parts" leaves={LEAVES} />
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
