import { useLocalSearchParams } from "expo-router";
import { WrapStage } from "../../../stages/wrap/WrapStage";

export default function Wrap() {
  const { id } = useLocalSearchParams<{ id: string }>();
  return <WrapStage eventId={id} />;
}
