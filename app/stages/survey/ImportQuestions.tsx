import { type ReadingAnswers, type ReadingQuestion, rateUnits } from "@ukaza/core/formats/fileReading";
import { useState } from "react";
import { Button } from "../../ui/Button";
import { Choice } from "../../ui/Choice";
import { Words } from "../../ui/Words";

interface Asked {
  sentence: (example: string) => string;
  options: { value: string; word: string }[];
}

const asked: Record<ReadingQuestion["ask"], Asked> = {
  dateOrder: {
    sentence: (example) => `"${example}" can be read in two ways. What stands first?`,
    options: [
      { value: "dmy", word: "The day" },
      { value: "mdy", word: "The month" },
    ],
  },
  decimal: {
    sentence: (example) => `"${example}" can be read in two ways. What is the decimal mark?`,
    options: [
      { value: "point", word: "The point" },
      { value: "comma", word: "The comma" },
    ],
  },
  rateUnit: {
    sentence: (example) =>
      `The column "${example}" does not say for certain in what unit its rates are. (If they are bytes, multiply them by 8 first.)`,
    options: Object.keys(rateUnits).map((value) => ({ value, word: value })),
  },
  clientAt: {
    sentence: (example) => `There is ${example}. Where did the program run that wrote this file?`,
    options: [
      { value: "far end", word: "At the far end" },
      { value: "venue", word: "At the venue" },
    ],
  },
};

/** What a file leaves open is asked, never guessed. */
export function ImportQuestions({
  questions,
  onAnswer,
}: {
  questions: ReadingQuestion[];
  onAnswer: (answers: Partial<ReadingAnswers>) => void;
}) {
  const [given, setGiven] = useState<Partial<Record<ReadingQuestion["ask"], string>>>({});
  const open = questions.some((q) => given[q.ask] === undefined);
  return (
    <>
      {questions.map(({ ask, example }) => (
        <Question
          key={ask}
          asked={asked[ask]}
          example={example}
          value={given[ask] ?? ""}
          onChange={(value) => setGiven({ ...given, [ask]: value })}
        />
      ))}
      <Button look="main" disabled={open} onPress={() => onAnswer(given as Partial<ReadingAnswers>)}>
        Read it so
      </Button>
    </>
  );
}

function Question({
  asked: { sentence, options },
  example,
  value,
  onChange,
}: {
  asked: Asked;
  example: string;
  value: string;
  onChange: (value: string) => void;
}) {
  const words = sentence(example);
  return (
    <>
      <Words>{words}</Words>
      <Choice label={words} value={value} options={options} onChange={onChange} />
    </>
  );
}
