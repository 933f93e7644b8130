import { Box, Button, chakra, Flex } from "@chakra-ui/react";
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";

import { QrPicture } from "../account/QrPicture";
import { api, ask } from "../api/client";
import { peopleQuery, renew } from "../api/queries";
import type { InvitationLink, Person, Role, Who } from "../api/types";
import { ChoiceField } from "../shell/fields";
import { notify, notifyTrouble } from "../shell/notices";
import { type Act, RareActs } from "../shell/RareActs";
import { Sheet } from "../shell/Sheet";
import { Loading, Trouble } from "../shell/states";
import { dayOf } from "../shell/moments";
import { Group } from "./Group";
import { ROLES } from "./people";

const CHOICES = (Object.keys(ROLES) as Role[]).map((role) => [role, ROLES[role].name] as const);

function LinkSheet({ link, onClose }: { link: InvitationLink; onClose: () => void }) {
  const { name, ends_at, role } = link.invitation;
  const copy = () =>
    navigator.clipboard.writeText(link.link).then(
      () => notify({ title: "The link is copied" }),
      () => notify({ title: "This browser does not copy", detail: "Mark the link and copy it by hand.", kind: "trouble" }),
    );
  return (
    <Sheet
      title={name === null ? "A link to come in" : `A link for ${name}`}
      open
      onClose={onClose}
      footer={<Button onClick={() => void copy()}>Copy the link</Button>}
    >
      <Box color="muted" mb="3">
        {name === null
          ? `Give it to one person, who then ${role === "owner" ? "runs this installation with you" : role === "viewer" ? "looks on" : "has an account of their own"}.`
          : "It lets them choose a new password."}{" "}
        It is good once, until {dayOf(ends_at)}, and is shown only now.
      </Box>
      <Flex gap="4" direction={{ base: "column", md: "row" }} align={{ md: "start" }}>
        <QrPicture rows={link.qr} size={200} label="The link as a QR code, for a phone’s camera" />
        <chakra.code fontSize="12.5px" wordBreak="break-all" userSelect="all" bg="ground" p="2" flex="1">
          {link.link}
        </chakra.code>
      </Flex>
    </Sheet>
  );
}

function OnePerson({ person, me, onLink }: { person: Person; me: boolean; onLink: (link: InvitationLink) => void }) {
  const change = useMutation({
    mutationFn: (body: { role: Role; open: boolean }) =>
      ask(api.PUT("/api/people/{id}", { params: { path: { id: person.id } }, body })),
    onSettled: () => renew("people"),
    onError: notifyTrouble,
  });
  const link = useMutation({
    mutationFn: () => ask(api.POST("/api/people/invitations", { body: { account_id: person.id } })),
    onSuccess: (made) => {
      onLink(made);
      void renew("people");
    },
    onError: notifyTrouble,
  });
  const acts: Act[] = person.open
    ? [
        { key: "link", label: "Link for a new password", run: () => link.mutate() },
        {
          key: "close",
          label: "Close the account",
          run: () =>
            change.mutate(
              { role: person.role, open: false },
              {
                onSuccess: () =>
                  notify({
                    title: `${person.name} cannot sign in any more`,
                    detail: "What they made is kept.",
                    undo: () => change.mutate({ role: person.role, open: true }),
                  }),
              },
            ),
        },
      ]
    : [{ key: "open", label: "Open the account again", run: () => change.mutate({ role: person.role, open: true }) }];
  return (
    <Flex as="li" align="center" gap="3" py="6px" borderBottomWidth="1px" borderColor="line" wrap="wrap">
      <Box flex="1" minW="8rem" wordBreak="break-word">
        {person.name}
        {me ? " (you)" : ""}
        <Box color="muted" fontSize="12.5px">
          {!person.open ? "closed" : person.seen_at ? `last here ${dayOf(person.seen_at)}` : "signed in nowhere"}
        </Box>
      </Box>
      <ChoiceField
        quiet
        width="190px"
        label={`What ${person.name} does here`}
        value={person.role}
        options={CHOICES}
        onCommit={(role) => change.mutate({ role, open: person.open })}
      />
      <RareActs of={person.name} acts={acts} />
    </Flex>
  );
}

/** Everybody with an account, and links for those who are to come. */
export function People({ who }: { who: Who }) {
  const people = useQuery(peopleQuery);
  const [role, setRole] = useState<Role>("photographer");
  const [shown, setShown] = useState<InvitationLink | null>(null);
  const invite = useMutation({
    mutationFn: () => ask(api.POST("/api/people/invitations", { body: { role } })),
    onSuccess: (made) => {
      setShown(made);
      void renew("people");
    },
    onError: notifyTrouble,
  });
  const takeBack = useMutation({
    mutationFn: (id: string) => ask(api.DELETE("/api/people/invitations/{id}", { params: { path: { id } } })),
    onSettled: () => renew("people"),
    onError: notifyTrouble,
  });
  if (people.isError) return <Trouble error={people.error} again={() => void people.refetch()} />;
  if (!people.data) return <Loading what="who is here" />;
  return (
    <Group
      title="People"
      about="Each has places, compositions and a logbook of their own. Nobody sees another’s but what is shared with them."
    >
      <Box as="ul" w="100%" listStyleType="none">
        {people.data.people.map((person) => (
          <OnePerson key={person.id} person={person} me={person.id === who.id} onLink={setShown} />
        ))}
        {people.data.invitations.map((one) => (
          <Flex as="li" key={one.id} align="center" gap="3" py="6px" borderBottomWidth="1px" borderColor="line">
            <Box flex="1">
              {one.name === null ? "Somebody invited" : `New password for ${one.name}`}
              <Box color="muted" fontSize="12.5px">
                {ROLES[one.role].name}, until {dayOf(one.ends_at)}
              </Box>
            </Box>
            <Button size="sm" variant="outline" onClick={() => takeBack.mutate(one.id)}>
              Take back
            </Button>
          </Flex>
        ))}
      </Box>
      <Flex gap="3" align="end" wrap="wrap">
        <ChoiceField width="190px" label="Invite somebody who" value={role} options={INVITED} onCommit={setRole} />
        <Button loading={invite.isPending} onClick={() => invite.mutate()}>
          Make a link
        </Button>
      </Flex>
      {shown ? <LinkSheet link={shown} onClose={() => setShown(null)} /> : null}
    </Group>
  );
}

const INVITED: readonly (readonly [Role, string])[] = [
  ["photographer", "photographs"],
  ["viewer", "looks on"],
  ["owner", "runs this with you"],
];
