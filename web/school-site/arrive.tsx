import { useState } from 'react';
import { useSearchParams } from 'react-router';

import { LAUNCH_REFUSALS, type Arrival } from '#api/school-site';
import { failureText, useArrivalQuery, useArriveAsMutation, useArriveInMutation, useArriveNewMutation } from '#web/api';
import { NamePasswordForm, Outside } from '#web/session';
import { Button, Loading, Refused, SelectField } from '#web/ui';

type StepOf<Kind extends Arrival['step']['kind']> = Extract<Arrival['step'], { kind: Kind }>;

const refusalOf = (code: string | null): string | null =>
  code !== null && Object.hasOwn(LAUNCH_REFUSALS, code) ? LAUNCH_REFUSALS[code as keyof typeof LAUNCH_REFUSALS] : null;

/** Somebody who came from the site of a school, and has something to say or choose before going on. */
export function ArrivePage() {
  const [search] = useSearchParams();
  const refusal = refusalOf(search.get('refused'));
  const { data, error } = useArrivalQuery(undefined, { skip: refusal !== null, refetchOnMountOrArgChange: true });
  const [later, setLater] = useState<Arrival | null>(null);
  if (refusal !== null) return <NotIn why={refusal} />;
  if (error) return <NotIn why={failureText(error)} />;
  const arrival = later ?? data;
  if (!arrival) return <Loading what="your way in" />;
  return <Step arrival={arrival} onNext={setLater} />;
}

const NotIn = ({ why }: { readonly why: string }) => (
  <Outside title="You are not in yet">
    <p role="alert">{why}</p>
    <p className="mt-4 text-sm">
      <a className="underline" href="/">
        Sign in here instead
      </a>
    </p>
  </Outside>
);

interface StepProps {
  readonly arrival: Arrival;
  readonly onNext: (arrival: Arrival) => void;
}

function Step({ arrival, onNext }: StepProps) {
  const { step } = arrival;
  switch (step.kind) {
    case 'account':
      return <WhoAreYou arrival={arrival} mayBeNew={step.mayBeNew} onNext={onNext} />;
    case 'section':
      return <WhichSection arrival={arrival} step={step} onNext={onNext} />;
    case 'assignments':
      return <WhichAssignments arrival={arrival} step={step} />;
    case 'done':
      // Loaded anew: somebody else may have been signed in to the page.
      window.location.assign(step.to);
      return <Loading what="your page" />;
  }
}

/** Is this one of the accounts here? */
function WhoAreYou({ arrival, mayBeNew, onNext }: StepProps & { readonly mayBeNew: boolean }) {
  const [arriveAs, { error, isLoading }] = useArriveAsMutation();
  const [arriveNew, { error: newError, isLoading: isMaking }] = useArriveNewMutation();
  return (
    <Outside title={`Welcome from ${arrival.site}`}>
      <p className="mb-3">
        You come as {arrival.name}, to {arrival.course}. Sign in once with your account here; from then on you come in
        without it.
      </p>
      <NamePasswordForm
        error={error}
        isSending={isLoading || isMaking}
        words={['This is my account', 'This is my account']}
        onSend={(typed) =>
          void arriveAs(typed).then((answer) => {
            if (answer.data) onNext(answer.data);
          })
        }
      />
      {mayBeNew && (
        <div className="mt-5 border-t border-rule pt-4">
          <p className="mb-2">You have none yet?</p>
          <Refused error={newError} />
          <Button
            disabled={isLoading || isMaking}
            onClick={() => {
              void arriveNew().then((answer) => {
                if (answer.data) onNext(answer.data);
              });
            }}
          >
            I am new here
          </Button>
        </div>
      )}
    </Outside>
  );
}

/** Which section is the course of the site? */
function WhichSection({ arrival, step, onNext }: StepProps & { readonly step: StepOf<'section'> }) {
  const [arriveIn, { error, isLoading }] = useArriveInMutation();
  const [chosen, setChosen] = useState(String(step.sections[0]?.id ?? ''));
  if (step.sections.length === 0)
    return (
      <Outside title={`Which section is ${arrival.course}?`}>
        <p>
          None of your sections is free: each is a course of the site already, or you manage no course here.{' '}
          <a className="underline" href="/people">
            Make a section
          </a>
          , and open the link on the site again.
        </p>
      </Outside>
    );
  return (
    <Outside title={`Which section is ${arrival.course}?`}>
      <p className="mb-3">
        Students who open a link of that course on {arrival.site} become members of the section that you choose.
      </p>
      <SelectField
        label="Section"
        value={chosen}
        onChange={(event) => {
          setChosen(event.target.value);
        }}
      >
        {step.sections.map(({ id, course, name }) => (
          <option key={id} value={id}>
            {course}, {name}
          </option>
        ))}
      </SelectField>
      <Refused error={error} />
      <Button
        kind="main"
        className="mt-3"
        disabled={isLoading}
        onClick={() => {
          void arriveIn(Number(chosen)).then((answer) => {
            if (answer.data) onNext(answer.data);
          });
        }}
      >
        Connect the course
      </Button>
    </Outside>
  );
}

/** Which assignments become links of the course? */
function WhichAssignments({ arrival, step }: Pick<StepProps, 'arrival'> & { readonly step: StepOf<'assignments'> }) {
  const [chosen, setChosen] = useState<readonly number[]>([]);
  return (
    <Outside title={`Choose for ${arrival.course}`}>
      {step.assignments.length === 0 ? (
        <p>
          Nothing is issued to {step.section} yet.{' '}
          <a className="underline" href="/exercises">
            Issue an exercise
          </a>
          , and choose again on the site.
        </p>
      ) : (
        <>
          <fieldset className="mb-4 flex flex-col gap-1">
            <legend className="mb-2">
              Issued to {step.section}. {step.several ? '' : 'The site takes one at a time.'}
            </legend>
            {step.assignments.map(({ id, number, title }) => (
              <label key={id} className="flex min-h-8 cursor-pointer items-center gap-2">
                <input
                  type={step.several ? 'checkbox' : 'radio'}
                  name="assignments"
                  className="accent-accent"
                  checked={chosen.includes(id)}
                  onChange={({ target }) => {
                    const others = step.several ? chosen.filter((one) => one !== id) : [];
                    setChosen(target.checked ? [...others, id] : others);
                  }}
                />
                {number} {title}
              </label>
            ))}
          </fieldset>
          <Button
            kind="main"
            disabled={chosen.length === 0}
            onClick={() => {
              window.location.assign(`/lti/chosen?assignments=${chosen.join(',')}`);
            }}
          >
            Take {chosen.length > 1 ? 'them' : 'it'} to {arrival.site}
          </Button>
        </>
      )}
    </Outside>
  );
}
