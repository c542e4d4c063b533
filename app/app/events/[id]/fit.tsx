import { useLocalSearchParams } from "expo-router";
import { FitStage } from "../../../stages/fit/FitStage";

export default function Fit() {
  const { id } = useLocalSearchParams<{ id: string }>();
  return <FitStage eventId={id} />;
}
