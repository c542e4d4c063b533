import { useState } from "react";
import { View } from "react-native";
import { Button } from "./Button";
import { Words } from "./Words";

/** Removing something asks once more, saying what becomes of it. */
export function Removal({ word, question, onRemove }: { word: string; question: string; onRemove: () => void }) {
  const [asking, setAsking] = useState(false);
  if (!asking)
    return (
      <Button className="self-start" onPress={() => setAsking(true)}>
        {word}
      </Button>
    );
  const remove = () => {
    setAsking(false);
    onRemove();
  };
  return (
    <View className="gap-2 rounded border border-broken p-3">
      <Words>{question}</Words>
      <View className="flex-row flex-wrap gap-2">
        <Button look="danger" onPress={remove}>
          Yes, remove it
        </Button>
        <Button onPress={() => setAsking(false)}>No</Button>
      </View>
    </View>
  );
}
