package web

import (
	"context"
	"net/http"
	"slices"
	"strings"

	"github.com/danielgtaylor/huma/v2"

	"zealousknot/internal/core/record"
	"zealousknot/internal/store"
)

// Role is what somebody is in a team; one may be several.
type Role = string

// The roles.
const (
	Technician  Role = "technician"
	Supervisor  Role = "supervisor"
	StoreKeeper Role = "store-keeper"
	Trainer     Role = "trainer"
	Reader      Role = "reader"
)

// Roles are all roles, in the order in which they are shown.
var Roles = []Role{Technician, Supervisor, StoreKeeper, Trainer, Reader}

// Right says who may do an operation of the API.
type Right struct {
	// Open: without signing in.
	Open bool
	// Roles are those that may; empty with Open false: everybody who is signed in.
	Roles []Role
	// Own says what further holds, in words.
	Own string
}

var (
	open     = Right{Open: true}
	signedIn = Right{}
)

func only(roles ...Role) Right { return Right{Roles: roles} }

// Rights says of every operation of the API who may do it. One that is not named
// here is refused when the program starts.
var Rights = withQuestions(map[string]Right{
	"session":         open,
	"sign-in":         open,
	"join":            open,
	"sign-out":        signedIn,
	"switch-team":     {Own: "to a team one is in"},
	"change-password": {Own: "one's own"},
	"set-pin":         {Own: "one's own"},
	"partners":        only(Technician, Supervisor, Trainer),
	"record-by-pin":   {Roles: []Role{Technician, Supervisor, Trainer}, Own: "signed by the PIN of somebody who may record it"},
	"sign-ins":        {Own: "one's own"},
	"end-sign-in":     {Own: "one's own"},

	"gear":             signedIn,
	"kits":             signedIn,
	"item-life":        signedIn,
	"store-pdf":        signedIn,
	"kit-pdf":          signedIn,
	"item-pdf":         signedIn,
	"item-history":     signedIn,
	"due":              signedIn,
	"due-ics":          signedIn,
	"due-pdf":          signedIn,
	"recalls":          signedIn,
	"affected":         signedIn,
	"rope-map":         signedIn,
	"points":           signedIn,
	"batch-pdf":        signedIn,
	"batch-notice":     signedIn,
	"photo":            signedIn,
	"put-photo":        only(Technician, Supervisor, StoreKeeper, Trainer),
	"frozen":           signedIn,
	"batch-csv":        signedIn,
	"wear":             signedIn,
	"item-by-code":     signedIn,
	"labels":           signedIn,
	"feeds":            only(Supervisor, StoreKeeper),
	"add-feed":         only(Supervisor, StoreKeeper),
	"revoke-feed":      only(Supervisor, StoreKeeper),
	"feed":             {Open: true, Own: "who knows the secret address, as long as its maker may make one"},
	"people":           signedIn,
	"forms":            signedIn,
	"comparison":       signedIn,
	"policy":           signedIn,
	"drops":            signedIn,
	"drop":             signedIn,
	"rescue-sheet-pdf": signedIn,
	"rescue-sheet-svg": signedIn,
	"team-sheet-pdf":   signedIn,
	"team-sheet-svg":   signedIn,
	"changes":          signedIn,
	"plan":             signedIn,
	"records":          signedIn,
	"sheet-pdf":        signedIn,
	"sheet-csv":        signedIn,
	"log":              {Own: "one's own; those of others: supervisor, trainer"},
	"log-csv":          {Own: "one's own; those of others: supervisor, trainer"},

	"add-drop":    only(Technician, Supervisor, Trainer),
	"save-drop":   only(Technician, Supervisor, Trainer),
	"remove-drop": only(Supervisor),

	"days":     signedIn,
	"day":      signedIn,
	"save-day": only(Supervisor),
	"fill-day": signedIn,
	"seat":     only(Technician, Supervisor, Trainer),
	"day-pdf":  signedIn,
	"day-ics":  signedIn,

	"callouts":         signedIn,
	"give-callout":     only(Technician, Supervisor, StoreKeeper, Trainer),
	"put-away-callout": only(Supervisor),
	"capability-pdf":   signedIn,
	"preplans":         signedIn,
	"save-preplan":     only(Technician, Supervisor, Trainer),
	"remove-preplan":   only(Supervisor),

	"skills":       signedIn,
	"classes":      signedIn,
	"save-class":   only(Trainer),
	"remove-class": only(Trainer),
	"marks":        {Own: "one's own; those of others: trainer"},
	"mark":         {Own: "one's own; those of others: trainer"},
	"give-mark":    only(Technician, Supervisor, StoreKeeper, Trainer),
	"exercise-pdf": signedIn,

	"joint-exercises": signedIn,
	"joint-exercise":  {Own: "what one's own roles see; the whole: trainer"},
	"begin-joint":     only(Technician, Supervisor, StoreKeeper, Trainer),
	"take-turn":       only(Technician, Supervisor, StoreKeeper, Trainer),

	"runs":          signedIn,
	"run":           signedIn,
	"run-after":     signedIn,
	"run-pdf":       signedIn,
	"run-csv":       signedIn,
	"run-sheet-pdf": signedIn,
	"learning":      signedIn,
	"make-run":      only(Supervisor),
	"send-readings": {Open: true, Own: "who knows a device token of the run"},
	"readings":      signedIn,
	"readings-csv":  signedIn,
	"tokens":        only(Supervisor),
	"make-token":    only(Supervisor),
	"revoke-token":  only(Supervisor),
	"put-away":      only(Supervisor),
	"give-events":   {Roles: []Role{Technician, Supervisor, StoreKeeper, Trainer}, Own: "of oneself; start, end, resume, the briefing, and of others: supervisor"},

	"drop-versions": signedIn,
	"drop-version":  signedIn,
	"drop-changes":  signedIn,
	"removed-drops": signedIn,
	"restore-drop":  only(Technician, Supervisor, Trainer),
	"set-time-zone": only(Supervisor),
	"set-plan":      {Roles: []Role{Technician, Supervisor}, Own: "released: supervisor"},
	"add-records":   {Roles: []Role{Technician, Supervisor, StoreKeeper, Trainer}, Own: "by kind, see below"},
	"put-policy":    only(Supervisor),
	"put-gear":      only(StoreKeeper),
	"take-history":  only(StoreKeeper),
	"put-people":    only(Supervisor),
	"import":        {Roles: []Role{Technician, Supervisor, StoreKeeper, Trainer}, Own: "models, items, events: store-keeper; people: supervisor; hours: one's own, those of others: supervisor"},
	"export":        signedIn,

	"export-archive": only(Supervisor),
	"import-archive": {Roles: []Role{Supervisor}, Own: "who takes it in is supervisor of the team that it makes"},

	"members":           only(Supervisor),
	"set-member":        only(Supervisor),
	"remove-member":     only(Supervisor),
	"invitations":       only(Supervisor),
	"invite":            only(Supervisor),
	"remove-invitation": only(Supervisor),
})

// withQuestions adds what only computes: whoever is signed in may ask it.
func withQuestions(rights map[string]Right) map[string]Right {
	for _, q := range questions() {
		rights[q.ID] = signedIn
	}
	return rights
}

// KindRights says who may record what.
var KindRights = map[record.Kind]Right{
	record.FunctionCheck:    only(Technician, Supervisor, StoreKeeper, Trainer),
	record.PartnerCheck:     {Roles: []Role{Technician, Supervisor, Trainer}, Own: "never of one's own rigging"},
	record.WornCheck:        only(Technician, Supervisor, StoreKeeper, Trainer),
	record.Quarantine:       only(Technician, Supervisor, StoreKeeper, Trainer),
	record.BackInService:    {Roles: []Role{StoreKeeper}, Own: "where the team has examiners, with a paper for the class; never who was in the event"},
	record.Familiarisation:  only(Supervisor, Trainer),
	record.KitIssue:         only(StoreKeeper),
	record.KitReturn:        only(StoreKeeper),
	record.KitSealed:        only(Technician, Supervisor, StoreKeeper, Trainer),
	record.SealBroken:       only(Technician, Supervisor, StoreKeeper, Trainer),
	record.Hours:            {Roles: []Role{Technician, Supervisor, Trainer}, Own: "one's own; those of others: supervisor"},
	record.Countersignature: {Roles: []Role{Supervisor}, Own: "never of one's own hours"},
	record.Examination:      {Roles: []Role{Technician, Supervisor, StoreKeeper, Trainer}, Own: "who holds an examiner's paper for the class; while nobody does: store-keeper"},
	record.Inspection:       {Roles: []Role{Technician, Supervisor, StoreKeeper, Trainer}, Own: "who holds an examiner's paper for the class; while nobody does: store-keeper"},
	record.RecallNotice:     only(StoreKeeper, Supervisor),
	record.Acknowledgement:  only(Technician, Supervisor, StoreKeeper, Trainer),
	record.RopeNote:         only(Technician, Supervisor, StoreKeeper, Trainer),
	record.RopeCutting:      only(StoreKeeper),
	record.Retirement:       only(StoreKeeper),
	record.Use:              only(Technician, Supervisor, StoreKeeper, Trainer),
	record.Practice:         {Roles: []Role{Trainer}, Own: "of others; what is practised on a screen is recorded with its mark"},
	record.Incident:         only(Technician, Supervisor, StoreKeeper, Trainer),
	record.Withdrawal:       {Roles: []Role{Technician, Supervisor, StoreKeeper, Trainer}, Own: "what one signed; what others signed: supervisor"},
}

// RightOf is the right of an operation; ok is false for one that has none.
func RightOf(operation string) (r Right, ok bool) {
	r, ok = Rights[operation]
	return r, ok
}

// Has reports whether somebody with some roles may.
func (r Right) Has(roles []Role) bool {
	return r.Open || len(r.Roles) == 0 || slices.ContainsFunc(roles, func(o Role) bool { return slices.Contains(r.Roles, o) })
}

type identityKey struct{}

// who is who is signed in; only operations that are not open may ask.
func who(ctx context.Context) *store.Identity {
	return ctx.Value(identityKey{}).(*store.Identity)
}

// signer is who is signed in, as records know them.
func signer(ctx context.Context) *record.Signer { return signerOf(who(ctx)) }

func signerOf(i *store.Identity) *record.Signer {
	return &record.Signer{Account: i.Account, Name: i.Name, Person: i.Person, Nobody: i.Nobody, Others: is(i, Supervisor), Keeps: is(i, StoreKeeper)}
}

func is(i *store.Identity, role Role) bool { return slices.Contains(i.Roles, role) }

// allow lets a request through to its operation, or not.
func allow(api huma.API) func(huma.Context, func(huma.Context)) {
	return func(ctx huma.Context, next func(huma.Context)) {
		r, _ := RightOf(ctx.Operation().OperationID)
		i, in := ctx.Context().Value(identityKey{}).(*store.Identity)
		switch {
		case r.Open || in && r.Has(i.Roles):
			next(ctx)
		case !in:
			_ = huma.WriteErr(api, ctx, http.StatusUnauthorized, "sign in first")
		default:
			_ = huma.WriteErr(api, ctx, http.StatusForbidden, "requires the role "+strings.Join(r.Roles, " or "))
		}
	}
}
