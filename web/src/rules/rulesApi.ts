import {
  type BodyOf,
  type ResponseOf,
  type RuleAct,
  type RuleTrial,
  routes,
  type StandingRule,
} from '@jaunty-sparrow/contract'
import { api, type Changing, request } from '../api/api.ts'
import { live } from '../live/connection.ts'

type Named = BodyOf<typeof routes.createRule>

/** What is tried of a rule, and for which signal. */
type Tried = BodyOf<typeof routes.tryRule> & { readonly signalId: number }

const rulesApi = api.injectEndpoints({
  endpoints: (build) => ({
    rules: build.query<ResponseOf<typeof routes.listRules>, void>({
      query: () => request(routes.listRules),
      providesTags: ['Rules'],
      async onCacheEntryAdded(_, { cacheEntryRemoved, dispatch }) {
        const stop = live.onFrame((frame) => {
          // A hand on a signal comes before its rules: that is told by its command.
          const isOfRules =
            (frame.kind === 'commands' && frame.commands.some(({ rule }) => rule === null)) ||
            (frame.kind === 'changed' && frame.changes.some(({ what }) => what === 'rules'))
          if (isOfRules) dispatch(api.util.invalidateTags(['Rules']))
        })
        await cacheEntryRemoved
        stop()
      },
    }),
    ruleActs: build.query<RuleAct[], number>({
      query: (ruleId) => request(routes.listRuleActs, { ruleId }),
      providesTags: ['Rules'],
    }),
    ruleTrial: build.query<RuleTrial, Tried>({
      query: ({ signalId, ...body }) => request(routes.tryRule, { signalId }, body),
      keepUnusedDataFor: 30,
    }),
    createRule: build.mutation<StandingRule, { readonly signalId: number; readonly body: Named }>({
      query: ({ signalId, body }) => request(routes.createRule, { signalId }, body),
      invalidatesTags: ['Rules'],
    }),
    changeRule: build.mutation<StandingRule, Changing<typeof routes.changeRule>>({
      query: ({ ruleId, body }) => request(routes.changeRule, { ruleId }, body),
      invalidatesTags: ['Rules'],
    }),
    deleteRule: build.mutation<void, number>({
      query: (ruleId) => request(routes.deleteRule, { ruleId }),
      invalidatesTags: ['Rules'],
    }),
    switchRule: build.mutation<StandingRule, Changing<typeof routes.switchRule>>({
      query: ({ ruleId, body }) => request(routes.switchRule, { ruleId }, body),
      invalidatesTags: ['Rules'],
    }),
    orderRules: build.mutation<void, Changing<typeof routes.orderRules>>({
      query: ({ signalId, body }) => request(routes.orderRules, { signalId }, body),
      invalidatesTags: ['Rules'],
    }),
    resumeRules: build.mutation<void, number>({
      query: (signalId) => request(routes.resumeRules, { signalId }),
      invalidatesTags: ['Rules'],
    }),
  }),
})

export const {
  useRulesQuery,
  useRuleActsQuery,
  useRuleTrialQuery,
  useCreateRuleMutation,
  useChangeRuleMutation,
  useDeleteRuleMutation,
  useSwitchRuleMutation,
  useOrderRulesMutation,
  useResumeRulesMutation,
} = rulesApi
