package web

import (
	"context"
	"crypto/rand"
	"errors"
	"fmt"
	"net/http"
	"regexp"
	"slices"
	"strings"

	"github.com/danielgtaylor/huma/v2"
	"github.com/google/uuid"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/strict"
	"zealousknot/internal/store"
)

type membersOut struct{ Body []store.Membership }

func (c *Config) members(ctx context.Context, _ *struct{}) (*membersOut, error) {
	list, err := c.Store.Members(ctx, who(ctx).Team.ID)
	if err != nil {
		return nil, failed(ctx, err)
	}
	return &membersOut{list}, nil
}

type memberBody struct {
	Person string    `json:"person,omitempty" pattern:"^[a-z0-9][a-z0-9-]{0,63}$" doc:"who on the team's drops this is; left out: not known"`
	Nobody bool      `json:"nobody,omitempty" doc:"they are nobody on the team's drops; nobody says so of themself"`
	Roles  []Role    `json:"roles" minItems:"1" maxItems:"5" enum:"technician,supervisor,store-keeper,trainer,reader"`
	Until  gear.Date `json:"until,omitempty" format:"date" doc:"the last day on which they are in the team; left out: for good"`
	// Revision guards against overwriting what somebody else changed meanwhile.
	Revision int `json:"revision,omitempty" minimum:"1" doc:"the one that was read; left out: whatever is there"`
}

type memberIn struct {
	ID      uuid.UUID `path:"id"`
	RawBody []byte
}

func (c *Config) setMember(ctx context.Context, in *memberIn) (*struct{}, error) {
	var body memberBody
	if err := strict.Read(in.RawBody, &body); err != nil {
		return nil, failed(ctx, err)
	}
	i := who(ctx)
	switch {
	case body.Nobody && body.Person != "":
		return nil, failed(ctx, &strict.Error{Faults: []strict.Fault{{Pointer: "/nobody", Detail: "is not said of who is tied to a person"}}})
	case body.Nobody && in.ID == i.Account && !i.Nobody:
		return nil, NewProblem(http.StatusForbidden, "another supervisor says this of you", strict.Fault{Pointer: "/nobody", Detail: "nobody says so of themself"})
	case in.ID == i.Account && i.Person != "" && body.Person != i.Person:
		// Else a supervisor is somebody else for as long as it takes to check their own rigging.
		return nil, NewProblem(http.StatusForbidden, "another supervisor says this of you, or the link command does", strict.Fault{Pointer: "/person", Detail: "who is known to be somebody on the drops does not make themself somebody else"})
	}
	by := ""
	if body.Nobody {
		by = i.Name
	}
	m := store.Membership{Person: body.Person, NobodyBy: by, Roles: roles(body.Roles), Until: body.Until, Revision: body.Revision}
	return nil, c.memberProblem(ctx, c.Store.SetMember(ctx, i.Team, signer(ctx), in.ID, m))
}

func (c *Config) removeMember(ctx context.Context, in *uuidIn) (*struct{}, error) {
	return nil, c.memberProblem(ctx, c.Store.RemoveMember(ctx, who(ctx).Team, signer(ctx), in.ID))
}

func (c *Config) memberProblem(ctx context.Context, err error) error {
	switch {
	case err == nil:
		return nil
	case errors.Is(err, store.ErrLastSupervisor):
		return NewProblem(http.StatusConflict, err.Error())
	}
	return failed(ctx, err)
}

// roles gives each role once, in the order in which roles are shown.
func roles(given []Role) []Role {
	return slices.DeleteFunc(slices.Clone(Roles), func(r Role) bool { return !slices.Contains(given, r) })
}

type invitationsOut struct{ Body []store.Invitation }

func (c *Config) invitations(ctx context.Context, _ *struct{}) (*invitationsOut, error) {
	list, err := c.Store.Invitations(ctx, who(ctx).Team.ID)
	if err != nil {
		return nil, failed(ctx, err)
	}
	return &invitationsOut{list}, nil
}

type inviteBody struct {
	Name   string    `json:"name" minLength:"1" maxLength:"80" doc:"who is invited"`
	Person string    `json:"person,omitempty" pattern:"^[a-z0-9][a-z0-9-]{0,63}$" doc:"who on the team's drops this is; left out: nobody"`
	Roles  []Role    `json:"roles" minItems:"1" maxItems:"5" enum:"technician,supervisor,store-keeper,trainer,reader"`
	Until  gear.Date `json:"until,omitempty" format:"date" doc:"the last day on which they are in the team, such as that of an examiner's session; left out: for good"`
}

type inviteOut struct {
	Body struct {
		store.Invitation
		Path string `json:"path" doc:"where it is taken; shown this once, since only its hash is kept"`
	}
}

func (c *Config) invite(ctx context.Context, in *rawIn) (*inviteOut, error) {
	var body inviteBody
	if err := strict.Read(in.RawBody, &body); err != nil {
		return nil, failed(ctx, err)
	}
	i := who(ctx)
	if body.Until != "" && body.Until < today(i.Team) {
		return nil, failed(ctx, &strict.Error{Faults: []strict.Fault{{Pointer: "/until", Detail: "is over"}}})
	}
	path, made, err := Invite(ctx, c.Store, i.Team.ID, store.Invitation{Name: body.Name, Person: body.Person, Roles: roles(body.Roles), Until: body.Until, MadeBy: i.Name, MadeByID: &i.Account})
	if err != nil {
		return nil, failed(ctx, err)
	}
	out := &inviteOut{}
	out.Body.Invitation, out.Body.Path = *made, path
	return out, nil
}

// Invite makes an invitation and gives where it is taken. What is behind the # is
// never sent with a page, so that it is in no log.
func Invite(ctx context.Context, s *store.Store, team uuid.UUID, i store.Invitation) (path string, made *store.Invitation, err error) {
	token := rand.Text()
	made, err = s.Invite(ctx, team, token, i)
	return "/join#" + token, made, err
}

func (c *Config) removeInvitation(ctx context.Context, in *uuidIn) (*struct{}, error) {
	if err := c.Store.RemoveInvitation(ctx, who(ctx).Team.ID, in.ID); err != nil {
		return nil, failed(ctx, err)
	}
	return nil, nil
}

type joinBody struct {
	Token string `json:"token" minLength:"1" maxLength:"80"`
	// A new account; left out by who is signed in and joins another team.
	Login    string `json:"login,omitempty" maxLength:"80"`
	Name     string `json:"name,omitempty" maxLength:"80"`
	Password string `json:"password,omitempty" maxLength:"200"`
	Device   string `json:"device,omitempty" maxLength:"200"`
}

var loginPattern = regexp.MustCompile(`^[a-z0-9][a-z0-9._@+-]{1,79}$`)

// join takes an invitation: who is signed in joins a further team, everybody else
// makes an account.
func (c *Config) join(ctx context.Context, in *addressed) (*startedOut, error) {
	var body joinBody
	if err := strict.Read(in.RawBody, &body); err != nil {
		return nil, failed(ctx, err)
	}
	if err := c.mayGuessFrom(ctx, in.address); err != nil {
		return nil, err
	}
	if i, ok := ctx.Value(identityKey{}).(*store.Identity); ok {
		_, err := c.Store.Join(ctx, body.Token, nil, i.Account)
		return nil, c.joinProblem(ctx, err, &in.from)
	}
	fresh, err := newAccount(ctx, &body)
	if err != nil {
		return nil, failed(ctx, err)
	}
	account, err := c.Store.Join(ctx, body.Token, fresh, uuid.Nil)
	if errors.Is(err, store.ErrTaken) {
		account, err = c.rejoin(ctx, &body, fresh.Login, &in.from)
	}
	var problem huma.StatusError
	if errors.As(err, &problem) {
		return nil, err
	}
	if err != nil {
		return nil, c.joinProblem(ctx, err, &in.from)
	}
	return c.begin(ctx, account, body.Device, &in.from)
}

// rejoin takes an invitation for somebody whose login is there already, by its password:
// whoever was in a team comes back as who they were.
func (c *Config) rejoin(ctx context.Context, body *joinBody, login string, on *from) (uuid.UUID, error) {
	a, err := c.Store.AccountByLogin(ctx, login)
	if err != nil || a.Demo && !c.Demo {
		return uuid.Nil, store.ErrTaken
	}
	right, err := c.guess(ctx, body.Password, a.Hash, "login "+login, "from "+on.address)
	if err != nil {
		return uuid.Nil, err
	}
	if !right {
		return uuid.Nil, store.ErrTaken
	}
	return c.Store.Join(ctx, body.Token, nil, a.ID)
}

func newAccount(ctx context.Context, body *joinBody) (*store.NewAccount, error) {
	var p strict.Faults
	login, name := strings.ToLower(strings.TrimSpace(body.Login)), strings.TrimSpace(body.Name)
	if !loginPattern.MatchString(login) {
		p.Add("two to eighty letters without accents, digits and . _ @ + -", "login")
	}
	if name == "" {
		p.Add("missing", "name")
	}
	if err := p.Err(); err != nil {
		return nil, err
	}
	if err := goodPassword("/password", body.Password); err != nil {
		return nil, err
	}
	hash, err := HashPassword(ctx, body.Password)
	if err != nil {
		return nil, fmt.Errorf("password: %w", err)
	}
	return &store.NewAccount{Login: login, Name: name, Hash: hash}, nil
}

// joinProblem is why an invitation is not taken; one that is not open counts as a guess.
func (c *Config) joinProblem(ctx context.Context, err error, on *from) error {
	switch {
	case err == nil:
		return nil
	case errors.Is(err, store.ErrNotFound):
		c.metrics.wrong.Inc()
		if err := c.Store.NoteWrong(ctx, "from "+on.address); err != nil {
			return failed(ctx, err)
		}
		return NewProblem(http.StatusNotFound, "this invitation is not open: it was taken, taken back, is more than seven days old, or whoever made it invites nobody any more")
	case errors.Is(err, store.ErrTaken):
		return NewProblem(http.StatusConflict, err.Error(), strict.Fault{Pointer: "/login", Detail: err.Error()})
	}
	return failed(ctx, err)
}
