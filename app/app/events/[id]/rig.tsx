import { useLocalSearchParams } from "expo-router";
import { RigStage } from "../../../stages/rig/RigStage";

export default function Rig() {
  const { id } = useLocalSearchParams<{ id: string }>();
  return <RigStage eventId={id} />;
}
