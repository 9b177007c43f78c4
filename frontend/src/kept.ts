/** A function whose answers are kept, by the object that it was asked of; what that says must never change. */
export function kept<Asked extends object, Answer>(work: (asked: Asked) => Answer): (asked: Asked) => Answer {
  const answers = new WeakMap<Asked, { answer: Answer }>();
  return (asked) => {
    const known = answers.get(asked);
    if (known) return known.answer;
    const answer = work(asked);
    answers.set(asked, { answer });
    return answer;
  };
}
