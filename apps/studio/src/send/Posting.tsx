import type { Delivery, Platform, Post } from '@flimzy/contract';
import { aboutOf } from '@flimzy/core/piece';
import Check from 'lucide-react-native/icons/check';
import ExternalLink from 'lucide-react-native/icons/external-link';
import TriangleAlert from 'lucide-react-native/icons/triangle-alert';
import { useState } from 'react';
import { View } from 'react-native';
import { call } from '../api/client';
import { fromHere } from '../api/fromHere';
import { KEYS, postsOf, putInto, takeOut, usePosts } from '../api/queries';
import { Button } from '../look/Button';
import { TextField } from '../look/Field';
import { Progress } from '../look/Progress';
import { Text } from '../look/Text';
import { say, sayWhy } from '../look/Toast';
import { useWhole } from '../open/editor';

const put = (post: Post) => putInto(postsOf(post.piece), post);
const OVER: readonly Post['status'][] = ['live', 'refused', 'failed', 'cancelled'];

const open = (address: string) => void window.open(fromHere(address), '_blank', 'noopener');

/** Rejects where a browser has no clipboard to offer, as over plain HTTP. */
const copied = async (text: string) => navigator.clipboard.writeText(text);

/** The platforms, each with who is signed in there and a way to post an export to it. */
export function PostTo({ delivery, platforms }: { delivery: Delivery; platforms: readonly Platform[] }) {
  // Those of the format it was made for come first.
  const meant = delivery.settings.format?.platform;
  const sorted = [...platforms].sort((a, b) => Number(b.name === meant) - Number(a.name === meant));
  return (
    <View className="gap-2" testID="post-to">
      {sorted.map((platform) => (
        <PlatformRow key={platform.id} delivery={delivery} platform={platform} meant={platform.name === meant} />
      ))}
    </View>
  );
}

function PlatformRow({ delivery, platform, meant }: { delivery: Delivery; platform: Platform; meant: boolean }) {
  const piece = useWhole();
  const { data: posts = [] } = usePosts(delivery.piece);
  const [busy, setBusy] = useState(false);
  const { id, name, about, account } = platform;
  const mine = posts.find((post) => post.delivery === delivery.id && post.platform === id && post.status !== 'refused');
  const post = () => {
    if (!piece) return;
    setBusy(true);
    call('newPost', { body: { delivery: delivery.id, platform: id, about: aboutOf(piece) } })
      .then(put, sayWhy)
      .finally(() => setBusy(false));
  };
  const signOut = () =>
    void call('signOut', { params: { platform: id } })
      .then((one) => putInto(KEYS.platforms, one))
      .catch(sayWhy);
  return (
    <View className="gap-2 rounded-2xl border border-hairline px-4 py-3" testID={`platform-${id}`}>
      <View>
        <Text kind="label">{name}</Text>
        <Text kind="small" className="leading-[16px]">
          {about}
          {meant ? ' · what this export is made for' : ''}
        </Text>
      </View>
      {account && !account.stale ? (
        <>
          <Text kind="note">Signed in as {account.name}</Text>
          <View className="flex-row flex-wrap gap-2">
            {mine ? (
              <Text kind="note" className="py-3">
                {mine.status === 'live' ? 'It is there.' : 'See below.'}
              </Text>
            ) : (
              <Button label={`Post to ${name}`} kind="main" onPress={post} disabled={busy} testID={`post-${id}`} />
            )}
            <Button label="Sign out" kind="quiet" onPress={signOut} testID={`sign-out-${id}`} />
          </View>
        </>
      ) : (
        <SignIn platform={platform} meant={meant} />
      )}
    </View>
  );
}

/** Where a token is typed or pasted. */
function SignIn({ platform: { id, name, account, tokenPage }, meant }: { platform: Platform; meant: boolean }) {
  const [opened, setOpened] = useState(meant || account?.stale === true);
  const [token, setToken] = useState('');
  const [wrong, setWrong] = useState<string | undefined>();
  const [busy, setBusy] = useState(false);
  const signIn = () => {
    if (!token.trim()) return setWrong('Paste the token first.');
    setBusy(true);
    setWrong(undefined);
    call('signIn', { params: { platform: id }, body: { token: token.trim() } })
      .then(
        (one) => putInto(KEYS.platforms, one),
        (error: Error) => setWrong(error.message),
      )
      .finally(() => setBusy(false));
  };
  if (!opened)
    return (
      <View className="flex-row">
        <Button label="Sign in" onPress={() => setOpened(true)} testID={`open-sign-in-${id}`} />
      </View>
    );
  return (
    <View className="gap-2">
      {account?.stale ? (
        <Text kind="note" className="text-warn">
          {name} no longer takes the token of {account.name}.
        </Text>
      ) : null}
      <TextField
        label={`Token of ${name}`}
        value={token}
        onChange={setToken}
        onKey={(key) => key === 'Enter' && signIn()}
        secret
        error={wrong}
        testID={`token-${id}`}
      />
      <Text kind="small" className="leading-[16px]">
        It is kept sealed on the server, and goes nowhere but to {name}.
      </Text>
      <View className="flex-row flex-wrap gap-2">
        <Button label="Sign in" onPress={signIn} disabled={busy} testID={`sign-in-${id}`} />
        <Button label="Get a token" icon={ExternalLink} kind="quiet" onPress={() => open(tokenPage)} testID={`get-token-${id}`} />
      </View>
    </View>
  );
}

/** What became of an export on each platform. */
export function PostsOf({ delivery }: { delivery: Delivery }) {
  const { data: posts = [] } = usePosts(delivery.piece);
  const mine = posts.filter((post) => post.delivery === delivery.id);
  return mine.length === 0 ? null : (
    <View className="gap-2">
      {mine.map((post) => (
        <PostRow key={post.id} post={post} />
      ))}
    </View>
  );
}

const SAYS: Record<Post['status'], (name: string) => string> = {
  waiting: (name) => `Waiting to go to ${name}`,
  sending: (name) => `Going to ${name}`,
  looking: (name) => `${name} looks at it`,
  live: (name) => `Live on ${name}`,
  refused: (name) => `${name} does not show it`,
  failed: (name) => `Not posted to ${name}`,
  cancelled: (name) => `Stopped on its way to ${name}`,
};

function PostRow({ post }: { post: Post }) {
  const { id, status, platformName, progress, page, reasons, says, title } = post;
  const over = OVER.includes(status);
  const ask = (what: 'cancelPost' | 'postAgain') => () => void call(what, { params: { id } }).then(put).catch(sayWhy);
  const dismiss = () => {
    takeOut(postsOf(post.piece), id);
    call('deletePost', { params: { id } }).catch((error: Error) => {
      put(post);
      sayWhy(error);
    });
  };
  const copy = (address: string) =>
    void copied(fromHere(address)).then(
      () => say('The link is copied.'),
      () => say(fromHere(address)),
    );
  return (
    <View testID={`posted-${status}`} className="gap-2 border-t border-hairline pt-2">
      <View className="flex-row items-center gap-2">
        {status === 'live' ? <Check size={15} color="var(--c-ink)" strokeWidth={2.4} /> : null}
        {status === 'refused' || status === 'failed' ? <TriangleAlert size={15} color="var(--c-warn)" strokeWidth={2} /> : null}
        <Text kind="label" className="min-w-0 flex-1">
          {SAYS[status](platformName)} · {title}
        </Text>
      </View>
      {status === 'sending' ? <Progress value={progress} label={`Going to ${platformName}`} /> : null}
      {says ? <Text kind="note">{says}</Text> : null}
      {reasons.map((reason) => (
        <Text key={reason} kind="note">
          {reason}
        </Text>
      ))}
      {status === 'refused' ? (
        <Text kind="small" className="leading-[16px]">
          Export it for a format of {platformName}, then post that.
        </Text>
      ) : null}
      <View className="flex-row flex-wrap gap-2">
        {page ? <Button label="See it" icon={ExternalLink} onPress={() => open(page)} testID="see-post" /> : null}
        {page ? <Button label="Copy link" kind="quiet" onPress={() => copy(page)} testID="copy-post" /> : null}
        {status === 'failed' || status === 'cancelled' ? <Button label="Try again" onPress={ask('postAgain')} testID="post-again" /> : null}
        {over ? (
          <Button label="Off the list" kind="quiet" onPress={dismiss} testID="dismiss-post" />
        ) : (
          <Button label="Cancel" kind="quiet" onPress={ask('cancelPost')} testID="cancel-post" />
        )}
      </View>
    </View>
  );
}
