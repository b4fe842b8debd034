package web

import (
	"context"
	"errors"
	"log/slog"
	"net/http"
	"strings"
	"time"

	"github.com/alexedwards/argon2id"
	"github.com/alexedwards/scs/v2"
	"github.com/google/uuid"

	"zealousknot/internal/core/record"
	"zealousknot/internal/core/strict"
	"zealousknot/internal/store"
)

const (
	// sessionLife is how long a device stays signed in.
	sessionLife = 30 * 24 * time.Hour
	// signInKey is where a session keeps which sign-in it is of.
	signInKey = "sign_in"
)

// passwordCost is what one guess costs: 19 MiB and two passes, one thread.
var passwordCost = &argon2id.Params{Memory: 19 << 10, Iterations: 2, Parallelism: 1, SaltLength: 16, KeyLength: 32}

// HashPassword gives what is kept of a password.
func HashPassword(ctx context.Context, password string) (hash string, err error) {
	err = inTurn(ctx, func() error {
		hash, err = argon2id.CreateHash(password, passwordCost)
		return err
	})
	return hash, err
}

// nobodysHash is compared with for logins that nobody has, so that they take as
// long to refuse as others.
const nobodysHash = "$argon2id$v=19$m=19456,t=2,p=1$AAAAAAAAAAAAAAAAAAAAAA$AAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAA"

// newSessions gives sessions that are kept in the database; a cookie holds a
// random token, the database its hash.
func newSessions(c *Config) *scs.SessionManager {
	m := scs.New()
	if c.Store != nil {
		m.Store = c.Store.Sessions()
	}
	m.Lifetime = sessionLife
	m.HashTokenInStore = true
	m.Cookie.Name = sessionCookie
	m.Cookie.Path = "/api"
	m.Cookie.SameSite = http.SameSiteLaxMode
	m.Cookie.Secure = c.Secure
	m.ErrorFunc = func(w http.ResponseWriter, r *http.Request, err error) {
		slog.ErrorContext(r.Context(), "session", "error", err)
		writeProblem(w, NewProblem(http.StatusInternalServerError, "something went wrong here; it is in the log, nothing was changed"))
	}
	return m
}

// identify puts who is signed in into the request.
func (c *Config) identify(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		id, err := uuid.Parse(c.sessions.GetString(r.Context(), signInKey))
		if err != nil {
			next.ServeHTTP(w, r)
			return
		}
		i, err := c.signedIn(r.Context(), id)
		switch {
		case errors.Is(err, store.ErrNotFound):
		case err != nil:
			slog.ErrorContext(r.Context(), "who is signed in", "error", err)
			writeProblem(w, NewProblem(http.StatusInternalServerError, "something went wrong here; it is in the log, nothing was changed"))
			return
		default:
			r = r.WithContext(context.WithValue(r.Context(), identityKey{}, i))
		}
		if !shownAs(r, i) {
			writeProblem(w, NewProblem(http.StatusUnauthorized, "somebody else, or somebody in another team, is signed in on this device now; nothing was done"))
			return
		}
		next.ServeHTTP(w, r)
	})
}

// asHeader names the account and the team that a page shows itself for. Windows of one
// browser share a session: where one signs in as somebody else, or goes over to another
// team, what another window still sends must be neither signed nor filed as theirs.
const asHeader = "As-Signed-In"

// shownAs reports whether a request comes from a page that shows who is signed in; one that
// does not say is believed.
func shownAs(r *http.Request, i *store.Identity) bool {
	as := r.Header.Get(asHeader)
	return as == "" || i != nil && as == i.Account.String()+" "+i.Team.ID.String()
}

// signedIn is who a sign-in is of. Accounts of the demo are nobody elsewhere: their
// passwords are known.
func (c *Config) signedIn(ctx context.Context, signIn uuid.UUID) (*store.Identity, error) {
	i, err := c.Store.SignedIn(ctx, signIn)
	if err == nil && i.Demo && !c.Demo {
		return nil, store.ErrNotFound
	}
	return i, err
}

// DemoAccount is an account whose password everybody may know.
type DemoAccount struct {
	Login    string `json:"login"`
	Password string `json:"password"`
	Name     string `json:"name"`
	Is       string `json:"is" doc:"what this person is in the team, in words"`
}

type sessionBody struct {
	SignedIn bool              `json:"signed_in"`
	Account  string            `json:"account,omitempty"`
	Name     string            `json:"name,omitempty"`
	Person   string            `json:"person,omitempty" doc:"who on the team's drops this is"`
	Team     *store.Team       `json:"team,omitempty"`
	Roles    []Role            `json:"roles" enum:"technician,supervisor,store-keeper,trainer,reader"`
	Teams    []store.TeamRoles `json:"teams" doc:"all teams this person is in"`
	// May lists what the roles allow.
	May          []string      `json:"may" doc:"operations of the API, and kinds of records as record:kind"`
	Demo         bool          `json:"demo" doc:"the demo scenario is loaded"`
	DemoAccounts []DemoAccount `json:"demo_accounts,omitempty"`
	Version      string        `json:"version"`
}

type sessionOut struct{ Body sessionBody }

func (c *Config) session(ctx context.Context, _ *struct{}) (*sessionOut, error) {
	out := &sessionOut{sessionBody{Roles: []Role{}, Teams: []store.TeamRoles{}, May: []string{}, Demo: c.Demo, Version: c.Version}}
	i, in := ctx.Value(identityKey{}).(*store.Identity)
	if !in {
		out.Body.DemoAccounts = c.DemoAccounts
		return out, nil
	}
	teams, err := c.Store.TeamsOf(ctx, i.Account)
	if err != nil {
		return nil, failed(ctx, err)
	}
	b := &out.Body
	b.SignedIn, b.Account, b.Name, b.Person, b.Team, b.Roles, b.Teams = true, i.Account.String(), i.Name, i.Person, &i.Team, i.Roles, teams
	b.May = may(i.Roles)
	return out, nil
}

// may lists what some roles allow.
func may(roles []Role) []string {
	list := []string{}
	for op, r := range Rights {
		if r.Has(roles) {
			list = append(list, op)
		}
	}
	for kind, r := range KindRights {
		if r.Has(roles) {
			list = append(list, "record:"+string(kind))
		}
	}
	if has := (Right{Roles: []Role{Supervisor}}); has.Has(roles) {
		list = append(list, "plan:"+string(record.Released))
	}
	return list
}

type signInBody struct {
	Login    string `json:"login" minLength:"1" maxLength:"80"`
	Password string `json:"password" minLength:"1" maxLength:"200"`
	Device   string `json:"device,omitempty" maxLength:"200" doc:"what this device is called in the list of sign-ins"`
}

// startedOut is a sign-in on a device that is known from now on.
type startedOut struct {
	SetCookie http.Cookie `header:"Set-Cookie"`
}

// signIn signs somebody in. Wrong passwords slow guesses at a login, but not from a
// device on which its owner signed in before: it is counted by itself.
func (c *Config) signIn(ctx context.Context, in *addressed) (*startedOut, error) {
	var body signInBody
	if err := strict.Read(in.RawBody, &body); err != nil {
		return nil, failed(ctx, err)
	}
	login := strings.ToLower(strings.TrimSpace(body.Login))
	a, err := c.Store.AccountByLogin(ctx, login)
	if errors.Is(err, store.ErrNotFound) || err == nil && a.Demo && !c.Demo {
		a, err = &store.Account{Hash: nobodysHash}, nil
	}
	if err != nil {
		return nil, failed(ctx, err)
	}
	known, err := c.Store.KnowsDevice(ctx, a.ID, in.device)
	if err != nil {
		return nil, failed(ctx, err)
	}
	guessed := []string{"login " + login, "from " + in.address}
	if known {
		guessed = []string{"login " + login + " on a known device"}
	} else if err := c.mayGuessFrom(ctx, in.address); err != nil {
		return nil, err
	}
	right, err := c.guess(ctx, body.Password, a.Hash, guessed...)
	if err != nil {
		return nil, err
	}
	if !right {
		return nil, NewProblem(http.StatusUnauthorized, "login or password is wrong")
	}
	if err := c.Store.Forget(ctx, guessed[0]); err != nil {
		return nil, failed(ctx, err)
	}
	return c.begin(ctx, a.ID, body.Device, &in.from)
}

// begin signs somebody in on the device that asks.
func (c *Config) begin(ctx context.Context, account uuid.UUID, device string, on *from) (*startedOut, error) {
	if device == "" {
		device = "a device"
	}
	id, err := c.Store.SignIn(ctx, account, device)
	if errors.Is(err, store.ErrNotFound) {
		return nil, NewProblem(http.StatusForbidden, "you are in no team any more; ask for an invitation")
	}
	if err != nil {
		return nil, failed(ctx, err)
	}
	if err := c.sessions.RenewToken(ctx); err != nil {
		return nil, failed(ctx, err)
	}
	c.sessions.Put(ctx, signInKey, id.String())
	return &startedOut{on.cookie(id, c.Secure)}, nil
}

func (c *Config) signOut(ctx context.Context, _ *struct{}) (*struct{}, error) {
	i := who(ctx)
	if err := c.Store.EndSignIn(ctx, i.Account, i.SignIn); err != nil {
		return nil, failed(ctx, err)
	}
	return nil, c.sessions.Destroy(ctx)
}

type switchBody struct {
	Team string `json:"team" minLength:"36" maxLength:"36"`
}

func (c *Config) switchTeam(ctx context.Context, in *rawIn) (*struct{}, error) {
	var body switchBody
	if err := strict.Read(in.RawBody, &body); err != nil {
		return nil, failed(ctx, err)
	}
	team, err := uuid.Parse(body.Team)
	if err != nil {
		return nil, NewProblem(http.StatusUnprocessableEntity, "not a team", strict.Fault{Pointer: "/team", Detail: "not an id of a team"})
	}
	if err := c.Store.SwitchTeam(ctx, who(ctx).SignIn, team); err != nil {
		return nil, failed(ctx, err)
	}
	return nil, nil
}

type passwordBody struct {
	Old string `json:"old" minLength:"1" maxLength:"200"`
	New string `json:"new" minLength:"1" maxLength:"200"`
}

func (c *Config) changePassword(ctx context.Context, in *rawIn) (*struct{}, error) {
	var body passwordBody
	if err := strict.Read(in.RawBody, &body); err != nil {
		return nil, failed(ctx, err)
	}
	i := who(ctx)
	if err := c.ownPassword(ctx, "/old", body.Old); err != nil {
		return nil, err
	}
	if err := goodPassword("/new", body.New); err != nil {
		return nil, failed(ctx, err)
	}
	hash, err := HashPassword(ctx, body.New)
	if err != nil {
		return nil, failed(ctx, err)
	}
	if err := c.Store.SetPassword(ctx, i.Account, i.SignIn, hash); err != nil {
		return nil, failed(ctx, err)
	}
	return nil, nil
}

// ownPassword refuses a password that is not the one of who asks; at is where it stands. The
// error is a problem, ready to be answered.
func (c *Config) ownPassword(ctx context.Context, at, password string) error {
	i := who(ctx)
	hash, err := c.Store.Password(ctx, i.Account)
	if err != nil {
		return failed(ctx, err)
	}
	right, err := c.guess(ctx, password, hash, "password of "+i.Account.String())
	if err == nil && !right {
		err = NewProblem(http.StatusUnprocessableEntity, "not changed", strict.Fault{Pointer: at, Detail: "is not the present password"})
	}
	return err
}

// goodPassword wants twelve characters, not all alike.
func goodPassword(at, password string) error {
	var p strict.Faults
	seen := map[rune]bool{}
	for _, r := range password {
		seen[r] = true
	}
	if len([]rune(password)) < 12 || len(seen) < 5 {
		p.Addf(at, "twelve characters or more, five of them different; several words are good")
	}
	return p.Err()
}

type signInsOut struct{ Body []store.SignInLine }

func (c *Config) signIns(ctx context.Context, _ *struct{}) (*signInsOut, error) {
	i := who(ctx)
	list, err := c.Store.SignIns(ctx, i.Account)
	if err != nil {
		return nil, failed(ctx, err)
	}
	for j := range list {
		list[j].Present = list[j].ID == i.SignIn
	}
	return &signInsOut{list}, nil
}

type uuidIn struct {
	ID uuid.UUID `path:"id"`
}

func (c *Config) endSignIn(ctx context.Context, in *uuidIn) (*struct{}, error) {
	if err := c.Store.EndSignIn(ctx, who(ctx).Account, in.ID); err != nil {
		return nil, failed(ctx, err)
	}
	return nil, nil
}
