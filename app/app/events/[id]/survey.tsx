import { useLocalSearchParams } from "expo-router";
import { SurveyStage } from "../../../stages/survey/SurveyStage";

export default function Survey() {
  const { id } = useLocalSearchParams<{ id: string }>();
  return <SurveyStage eventId={id} />;
}
