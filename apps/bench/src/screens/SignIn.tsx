import { useLocalSearchParams, useRouter } from 'expo-router'
import { useState } from 'react'
import { useDispatch } from 'react-redux'
import { View } from '@tamagui/core'
import { Act } from '../parts/Act'
import { Field } from '../parts/Field'
import { ProblemNotice } from '../parts/Notice'
import { Column, Paper, Words } from '../parts/type'
import { placeWithin } from './placeWithin'
import { problemOf } from '../store/api'
import { peopleApi, useSignInMutation } from '../store/people'
import type { Store } from '../store/store'

export const SignIn = () => {
  const [login, setLogin] = useState('')
  const [password, setPassword] = useState('')
  const [signIn, { error, isLoading }] = useSignInMutation()
  const dispatch = useDispatch<Store['dispatch']>()
  const router = useRouter()
  const { to } = useLocalSearchParams<{ to?: string }>()
  const ready = login.trim() !== '' && password !== '' && !isLoading
  const submit = async () => {
    if (!ready) return
    const result = await signIn({ login: login.trim(), password })
    if ('error' in result) return
    dispatch(peopleApi.util.upsertQueryData('me', undefined, result.data))
    router.replace(placeWithin(to) as '/')
  }
  return (
    <View role="main" flex={1} backgroundColor="$paper" alignItems="center" justifyContent="center" padding="$4">
      <Column width="100%" maxWidth={400} gap="$5">
        <Column gap="$1">
          <Words kind="title">Taraf</Words>
          <Words kind="faint">The bench where finished airframes prove themselves.</Words>
        </Column>
        <Paper>
          <Field
            label="Name"
            value={login}
            onChange={setLogin}
            autoComplete="username"
            autoFocus
            onSubmitEditing={() => void submit()}
          />
          <Field
            label="Password"
            value={password}
            onChange={setPassword}
            secureTextEntry
            autoComplete="current-password"
            onSubmitEditing={() => void submit()}
          />
          <Act kind="main" label={isLoading ? 'Signing in …' : 'Sign in'} off={!ready} onPress={() => void submit()} />
        </Paper>
        <ProblemNotice problem={problemOf(error)} />
      </Column>
    </View>
  )
}
