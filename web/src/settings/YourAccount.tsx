import { Box, Button, chakra, Flex } from "@chakra-ui/react";
import { useMutation, useQuery } from "@tanstack/react-query";

import { useState } from "react";

import { QrPicture } from "../account/QrPicture";
import { signOut } from "../account/account";
import { entered, EntryField } from "../account/EntryField";
import { api, ApiError, ask, problemOf, wordsOf } from "../api/client";
import { devicesQuery, renew } from "../api/queries";
import type { PairLink, Who } from "../api/types";
import { More } from "../shell/More";
import { notify, notifyTrouble } from "../shell/notices";
import { Sheet } from "../shell/Sheet";
import { dayOf } from "../shell/moments";
import { Group } from "./Group";
import { ROLES } from "./people";

function Devices() {
  const devices = useQuery(devicesQuery);
  const leave = useMutation({
    mutationFn: (id: string) => ask(api.DELETE("/api/account/devices/{id}", { params: { path: { id } } })),
    onSuccess: () => renew("devices"),
    onError: notifyTrouble,
  });
  return (
    <Box as="ul" w="100%" listStyleType="none">
      {devices.data?.map((one) => (
        <Flex as="li" key={one.id} align="center" gap="3" py="6px" _notLast={{ borderBottomWidth: "1px" }} borderColor="line">
          <Box flex="1">
            {one.device}
            <Box color="muted" fontSize="12.5px">
              {one.this ? "this device" : `last used ${dayOf(one.seen_at)}`}
            </Box>
          </Box>
          {one.this ? null : (
            <Button size="sm" variant="outline" onClick={() => leave.mutate(one.id)} aria-label={`Sign out on ${one.device}`}>
              Sign out
            </Button>
          )}
        </Flex>
      ))}
    </Box>
  );
}

/** A phone signed in by its camera. */
function AnotherDevice() {
  const [link, setLink] = useState<PairLink>();
  const make = useMutation({
    mutationFn: () => ask(api.POST("/api/account/devices/link")),
    onSuccess: setLink,
    onError: notifyTrouble,
  });
  return (
    <>
      <Button variant="outline" loading={make.isPending} onClick={() => make.mutate()}>
        Sign a phone in
      </Button>
      {link ? (
        <Sheet title="Sign a phone in" open onClose={() => (setLink(undefined), void renew("devices"))}>
          <Box mb="3">
            Point the phone’s camera at this. It is good once, for ten minutes. Where the browser warns, the page that opens says
            how to have the phone trust this installation.
          </Box>
          <Flex gap="4" direction={{ base: "column", md: "row" }} align={{ md: "start" }}>
            <QrPicture rows={link.qr} size={220} label="The link as a QR code, for a phone’s camera" />
            <chakra.code
              fontSize="12.5px"
              wordBreak="break-all"
              userSelect="all"
              bg="ground"
              p="2"
              flex="1"
              data-testid="pair-link"
            >
              {link.link}
            </chakra.code>
          </Flex>
        </Sheet>
      ) : null}
    </>
  );
}

function NewPassword({ name }: { name: string }) {
  const send = useMutation({
    mutationFn: (body: { old: string; new: string }) => ask(api.PUT("/api/account/password", { body })),
    onSuccess: () => {
      notify({ title: "The new password holds", detail: "Every other device signs in anew with it." });
      void renew("devices");
    },
  });
  const problem = send.error instanceof ApiError ? send.error : null;
  const field = (end: string) => problem?.field(end);
  return (
    <form
      style={{ width: "100%" }}
      onSubmit={(event) => {
        event.preventDefault();
        const form = event.currentTarget;
        send.mutate({ old: entered(form, "old"), new: entered(form, "new") }, { onSuccess: () => form.reset() });
      }}
    >
      <input type="text" name="username" autoComplete="username" value={name} readOnly hidden />
      <Flex direction="column" gap="3" maxW="20rem">
        <EntryField
          label="The password that holds now"
          name="old"
          type="password"
          complete="current-password"
          error={field("/old")}
        />
        <EntryField label="The new one" name="new" type="password" complete="new-password" error={field("/new")} />
        {problem && !field("/old") && !field("/new") ? (
          <Box role="alert" color="rust">
            {wordsOf(problemOf(problem))}
          </Box>
        ) : null}
        <Button type="submit" alignSelf="start" variant="outline" loading={send.isPending}>
          Change password
        </Button>
      </Flex>
    </form>
  );
}

/** Who is signed in, on which devices, and the way out. */
export function YourAccount({ who }: { who: Who }) {
  const leave = (everywhere: boolean) => void signOut(everywhere).catch(notifyTrouble);
  return (
    <Group title={who.name} about={who.role ? ROLES[who.role].about : ""}>
      <Flex gap="3" wrap="wrap">
        <Button onClick={() => leave(false)}>Sign out</Button>
        <Button variant="outline" onClick={() => leave(true)}>
          Sign out on every device
        </Button>
      </Flex>
      <Devices />
      <AnotherDevice />
      <Box w="100%">
        <More title="Another password">
          <NewPassword name={who.name} />
        </More>
      </Box>
    </Group>
  );
}
