import { plain } from '../reply/normalise';

/** Yes by themselves and before whatever follows. */
const YES =
  /^(?:yes|y|yeah|yep|yup|ya|yea|of course|certainly|absolutely|definitely|affirmative|you bet|i do|i am|we do|we are|si|claro|por supuesto|oui|bien sur|ja)\b/;
/** Yes where little follows: `ok great`, and not `ok, let me ask him`. */
const WEAK_YES = /^(?:sure|correct|right|ok|okay|true)(?: (?!now\b)\S+){0,2}$/;
const NO =
  /^(?:no|n|nope|nah|never|negative|not (?:really|yet|at all|a chance)|false|(?:i|we) (?:do|am|are) not|(?:i|we) (?:dont|arent)|im not|were not|non|nein|para nada|nunca|jamais)\b/;
/** `definitely not`: the first word only makes the second stronger. */
const STRONG_NO =
  /^(?:definitely|absolutely|certainly|of course|probably|most likely|surely|sure|clearly|desde luego|claro|por supuesto|bien sur|surement) (?:not|no|que no|nicht|pas)\b/;
/** What begins with a no and says none. */
const NO_NO = /\bno (?:hay )?(?:problem[ao]?|worries|doubt|question|prob|biggie)\b|\bwhy not\b/;
/** Both in a breath: `yes and no`, `no, yes`, `y/n`. */
const BOTH = new RegExp(
  `^(?:(?:yes|y|yeah|yep|yup|si|oui|ja|ok|okay|right) (?:and |or |but |y |o |et |ou )?(?:no|n|nope|non|nein)|(?:no|n|nope|non|nein) (?:and |or |but |y |o |et |ou )?(?:yes|y|yeah|yep|si|oui|ja))\\b`,
);
/** A no with a condition takes it back. */
const UNDECIDED = /^\S+ (?:but|well) (?:not yet|no|never|i (?:dont|do not))$/;

/** Whether it says yes or no. Null: neither surely, or both. */
export function yesNoIn(text: string): 'yes' | 'no' | null {
  if (/^\s*(?:👍|✅|🙋)/u.test(text)) return 'yes';
  if (/^\s*(?:👎|❌|🚫)/u.test(text)) return 'no';
  const bare = plain(text)
    .replace(/^ye+s+\b/, 'yes')
    .replace(/^no+\b/, 'no');
  if (STRONG_NO.test(bare)) return 'no';
  const undoubted = bare.replace(NO_NO, '').trim();
  if (BOTH.test(undoubted) || UNDECIDED.test(undoubted)) return null;
  // Before `i do`, which `i do not` begins with.
  if (NO.test(undoubted)) return 'no';
  return YES.test(bare) || (WEAK_YES.test(undoubted) && !/\b(?:no|not|but)\b/.test(undoubted)) ? 'yes' : null;
}
