import { useLocalSearchParams } from "expo-router";
import { LineupStage } from "../../../stages/lineup/LineupStage";

export default function Lineup() {
  const { id } = useLocalSearchParams<{ id: string }>();
  return <LineupStage eventId={id} />;
}
