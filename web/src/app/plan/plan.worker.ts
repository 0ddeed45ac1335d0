import { formatPlan, pointAt, previewFile, say } from '@glue-trace/core/browser';
import { meaningAt, offersAt } from './plan-help';
import type { Answer, Question } from './workbench';

/** Reads the file by the plan as it is being written, away from the thread that draws. */
addEventListener('message', ({ data }: MessageEvent<{ number: number; question: Question }>) => {
  const { number, question } = data;
  void answer(question).then((answer) => postMessage({ number, answer }));
});

async function answer(question: Question): Promise<Answer> {
  switch (question.ask) {
    case 'preview':
      return { preview: previewFile(question.plan, question.path, question.text, question.bases) };
    case 'point':
      return { pointed: pointAt(question.text, question.format, question.offset) };
    case 'say':
      return { written: say(question.plan, question.path, question.rule, question.pointed, question.saying) };
    case 'format':
      return { plan: formatPlan(question.plan) };
    case 'offers':
      return { offers: await offersAt(question.plan, question.offset) };
    case 'meaning':
      return { meaning: await meaningAt(question.plan, question.offset) };
  }
}
