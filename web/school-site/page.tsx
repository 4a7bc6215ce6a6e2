import { valibotResolver } from '@hookform/resolvers/valibot';
import { useState } from 'react';
import { useForm } from 'react-hook-form';

import { NewSchoolSiteSchema, type NewSchoolSite, type SchoolSites } from '#api';
import { useRegisterSiteMutation, useRemoveSiteMutation, useRenewKeyMutation, useSchoolSitesQuery } from '#web/api';
import { Button, dateTime, Dialog, Empty, Failed, Loading, PageHead, Panel, plural, Refused, TextField } from '#web/ui';

type Site = SchoolSites['sites'][number];

function answerOf([first, ...others]: readonly Site[]): string {
  if (first === undefined) return 'No site of a school is registered';
  return others.length === 0 ? `${first.name} is registered` : `${String(others.length + 1)} sites are registered`;
}

/** Which sites send their people here, and what each has to be told. */
export function SchoolSitePage() {
  const { data, error, refetch } = useSchoolSitesQuery();
  const [isAdding, setIsAdding] = useState(false);
  const [removed, setRemoved] = useState<Site | null>(null);
  if (error) return <Failed error={error} retry={() => void refetch()} />;
  if (!data) return <Loading what="the registered sites" />;
  return (
    <>
      <PageHead
        answer={answerOf(data.sites)}
        detail="A site that speaks LTI 1.3 sends its people here without a second password, takes exercises as links, lends its class lists and takes grades."
        actions={
          <Button
            kind="main"
            onClick={() => {
              setIsAdding(true);
            }}
          >
            Register a site
          </Button>
        }
      />
      <div className="grid grid-cols-[minmax(0,1fr)] items-start gap-4 lg:grid-cols-2">
        <Panel title="Registered">
          {data.sites.length === 0 ? (
            <Empty>
              Add this server as a tool on the site first, with the addresses beside, then register it here.
            </Empty>
          ) : (
            <ul className="divide-y divide-rule">
              {data.sites.map((site) => (
                <li key={site.id} className="p-3">
                  <div className="flex flex-wrap items-baseline justify-between gap-2">
                    <span className="font-semibold">{site.name}</span>
                    <Button
                      kind="quiet"
                      onClick={() => {
                        setRemoved(site);
                      }}
                    >
                      Remove
                    </Button>
                  </div>
                  <p className="mb-2 text-sm text-soft">
                    {plural(site.people, 'person', 'people')} and {plural(site.courses, 'course')} connected.
                  </p>
                  <Addresses
                    rows={[
                      ['Issuer', site.issuer],
                      ['Client', site.clientId],
                      ['Deployment', site.deploymentId],
                      ['Sign-in address', site.signInUrl],
                      ['Token address', site.tokenUrl],
                      ['Keys', site.keysUrl],
                    ]}
                  />
                </li>
              ))}
            </ul>
          )}
        </Panel>
        <Own own={data.own} keySince={data.keySince} />
      </div>
      {isAdding && (
        <RegisterDialog
          onClose={() => {
            setIsAdding(false);
          }}
        />
      )}
      {removed !== null && (
        <RemoveDialog
          site={removed}
          onClose={() => {
            setRemoved(null);
          }}
        />
      )}
    </>
  );
}

function Addresses({ rows }: { readonly rows: readonly (readonly [label: string, value: string])[] }) {
  return (
    <dl className="grid grid-cols-[auto_minmax(0,1fr)] gap-x-4 gap-y-1 text-sm">
      {rows.map(([label, value]) => (
        <div key={label} className="contents">
          <dt className="text-soft">{label}</dt>
          <dd className="break-all select-all">{value}</dd>
        </div>
      ))}
    </dl>
  );
}

/** What the site is told when this server is added there as a tool. */
function Own({ own, keySince }: Pick<SchoolSites, 'own' | 'keySince'>) {
  const [renew, { isLoading, error }] = useRenewKeyMutation();
  return (
    <Panel title="To be typed on the site">
      <div className="p-3">
        <Addresses
          rows={[
            ['Login address', own.signInUrl],
            ['Launch and redirect address', own.launchUrl],
            ['Keys of this server', own.keysUrl],
          ]}
        />
        <p className="mt-3 mb-2 text-sm">
          What this server sends is signed with a key of {dateTime(keySince)}. A new one is taken at once; the one
          before is shown for a week more.
        </p>
        <Refused error={error} />
        <Button
          disabled={isLoading}
          onClick={() => {
            void renew();
          }}
        >
          Sign with a new key
        </Button>
      </div>
    </Panel>
  );
}

const FIELDS: readonly (readonly [keyof NewSchoolSite, label: string, hint: string])[] = [
  ['name', 'Name', 'As your people call the site.'],
  ['issuer', 'Issuer', ''],
  ['clientId', 'Client', ''],
  ['deploymentId', 'Deployment', ''],
  ['signInUrl', 'Sign-in address', 'Where the site is asked who somebody is.'],
  ['tokenUrl', 'Token address', 'For class lists and grades.'],
  ['keysUrl', 'Keys', 'The address of the public keys of the site.'],
];

function RegisterDialog({ onClose }: { readonly onClose: () => void }) {
  const [add, { error, isLoading }] = useRegisterSiteMutation();
  const { register, handleSubmit, formState } = useForm<NewSchoolSite>({
    resolver: valibotResolver(NewSchoolSiteSchema),
    defaultValues: {
      name: '',
      issuer: '',
      clientId: '',
      deploymentId: '',
      signInUrl: '',
      tokenUrl: '',
      keysUrl: '',
    },
  });
  return (
    <Dialog
      onClose={onClose}
      title="Register a site"
      description="The site shows all of this when the tool is added there. Courses are connected by their instructors, who open the tool from there once."
    >
      <form
        noValidate
        className="flex flex-col gap-2"
        onSubmit={(event) =>
          void handleSubmit(async (values) => {
            const answer = await add(values);
            if (answer.data) onClose();
          })(event)
        }
      >
        {FIELDS.map(([name, label, hint]) => (
          <TextField
            key={name}
            label={label}
            hint={hint}
            autoComplete="off"
            spellCheck={false}
            error={formState.errors[name]?.message}
            {...register(name)}
          />
        ))}
        <Refused error={error} />
        <Button kind="main" type="submit" disabled={isLoading} className="mt-1 self-start">
          Register
        </Button>
      </form>
    </Dialog>
  );
}

function RemoveDialog({ site, onClose }: { readonly site: Site; readonly onClose: () => void }) {
  const [remove, { error, isLoading }] = useRemoveSiteMutation();
  return (
    <Dialog
      onClose={onClose}
      title={`Remove ${site.name}`}
      description={`Nobody comes in from there any more: the connections of ${plural(site.people, 'person', 'people')} and ${plural(site.courses, 'course')} are forgotten. Accounts, hand-ins and grades here stay.`}
    >
      <Refused error={error} />
      <Button
        kind="main"
        disabled={isLoading}
        onClick={() => {
          void remove(site.id).then((answer) => {
            if (answer.data) onClose();
          });
        }}
      >
        Remove the site
      </Button>
    </Dialog>
  );
}
