import { useLocalSearchParams } from "expo-router";
import { AirStage } from "../../../stages/air/AirStage";

export default function Air() {
  const { id } = useLocalSearchParams<{ id: string }>();
  return <AirStage eventId={id} />;
}
