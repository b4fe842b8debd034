package store

import (
	"bytes"
	"context"
	"crypto/sha256"
	"encoding/json"
	"errors"
	"slices"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/record"
	"zealousknot/internal/core/strict"
	"zealousknot/internal/store/sqlc"
)

var (
	// ErrLastSupervisor is returned for what would leave a team without a supervisor.
	ErrLastSupervisor = errors.New("the team would have no supervisor any more")
	// ErrTaken is returned for a login that somebody has.
	ErrTaken = errors.New("somebody has this login already")
)

// Account is who signs in.
type Account struct {
	ID   uuid.UUID
	Name string
	// Hash is of the password.
	Hash string
	// Demo marks one whose password is known to all.
	Demo bool
}

// NewAccount is an account that is to be made.
type NewAccount struct {
	Login, Name, Hash string
	Demo              bool
}

// AccountByLogin gives the account of a login, ErrNotFound where there is none.
func (s *Store) AccountByLogin(ctx context.Context, login string) (*Account, error) {
	row, err := s.q.AccountByLogin(ctx, login)
	return &Account{row.ID, row.Name, row.PasswordHash, row.Demo}, missing(err)
}

// Password gives the hash of an account's password.
func (s *Store) Password(ctx context.Context, account uuid.UUID) (string, error) {
	hash, err := s.q.AccountPassword(ctx, account)
	return hash, missing(err)
}

// SetPassword changes a password and ends every sign-in but the present one.
func (s *Store) SetPassword(ctx context.Context, account, signIn uuid.UUID, hash string) error {
	return s.inTx(ctx, func(q *sqlc.Queries) error {
		if err := q.SetPassword(ctx, sqlc.SetPasswordParams{ID: account, PasswordHash: hash}); err != nil {
			return err
		}
		return q.EndOtherSignIns(ctx, sqlc.EndOtherSignInsParams{AccountID: account, ID: signIn})
	})
}

// SetPIN sets the hash of the number by which an account signs on the device of somebody else;
// none for "".
func (s *Store) SetPIN(ctx context.Context, account uuid.UUID, hash string) error {
	p := sqlc.SetPINParams{ID: account}
	if hash != "" {
		p.PinHash = &hash
	}
	return s.q.SetPIN(ctx, p)
}

// Partner is who signs with a PIN on the device of somebody else.
type Partner struct {
	Identity
	// Hash is of the PIN.
	Hash string
}

// Partners gives who of a team has a PIN.
func (s *Store) Partners(ctx context.Context, team uuid.UUID) ([]Identity, error) {
	rows, err := s.q.Partners(ctx, team)
	list := make([]Identity, len(rows))
	for i, r := range rows {
		list[i] = Identity{Account: r.ID, Name: r.Name, Roles: r.Roles}
	}
	return list, err
}

// Partner gives one of them; ErrNotFound for who is not in the team, or has no PIN.
func (s *Store) Partner(ctx context.Context, team Team, account uuid.UUID) (*Partner, error) {
	row, err := s.q.Partner(ctx, sqlc.PartnerParams{TeamID: team.ID, Account: account})
	if err != nil {
		return nil, missing(err)
	}
	return &Partner{Identity{Account: row.ID, Name: row.Name, Demo: row.Demo, Team: team, Person: value(row.PersonID), Nobody: row.NobodyBy != nil, Roles: row.Roles}, value(row.PinHash)}, nil
}

// Identity is who is signed in, in which team, with which roles.
type Identity struct {
	SignIn, Account uuid.UUID
	Name            string
	Demo            bool
	Team            Team
	// Person is who on the team's drops this is; empty where that is not known, or where
	// a supervisor has said that they are nobody there.
	Person string
	Nobody bool
	Roles  []string
}

// seenEvery is how often it is noted that somebody is still there.
const seenEvery = 5 * time.Minute

// SignIn notes that somebody signed in on a device, in the first of their teams;
// ErrNotFound for somebody who is in none.
func (s *Store) SignIn(ctx context.Context, account uuid.UUID, device string) (uuid.UUID, error) {
	teams, err := s.q.TeamsOf(ctx, account)
	if err != nil {
		return uuid.Nil, err
	}
	if len(teams) == 0 {
		return uuid.Nil, ErrNotFound
	}
	return s.q.AddSignIn(ctx, sqlc.AddSignInParams{AccountID: account, TeamID: teams[0].ID, Device: device})
}

// SignedIn gives who a sign-in is of; ErrNotFound where it was ended, or where the
// person is not in that team any more.
func (s *Store) SignedIn(ctx context.Context, signIn uuid.UUID) (*Identity, error) {
	row, err := s.q.SignedIn(ctx, signIn)
	if err != nil {
		return nil, missing(err)
	}
	if time.Since(row.SeenAt.Time) > seenEvery {
		if err := s.q.Seen(ctx, signIn); err != nil {
			return nil, err
		}
	}
	return &Identity{
		SignIn: row.ID, Account: row.AccountID, Name: row.Name, Demo: row.Demo, Team: Team{row.TeamID, row.TeamName, row.TimeZone},
		Person: value(row.PersonID), Nobody: row.NobodyBy != nil, Roles: row.Roles,
	}, nil
}

// SwitchTeam goes over to another of one's teams; ErrNotFound for any other one.
func (s *Store) SwitchTeam(ctx context.Context, signIn, team uuid.UUID) error {
	_, err := s.q.SwitchTeam(ctx, sqlc.SwitchTeamParams{ID: signIn, TeamID: team})
	return missing(err)
}

// TeamRoles is a team that somebody is in, and as what.
type TeamRoles struct {
	Team
	Roles []string `json:"roles"`
}

// TeamsOf gives the teams that somebody is in.
func (s *Store) TeamsOf(ctx context.Context, account uuid.UUID) ([]TeamRoles, error) {
	rows, err := s.q.TeamsOf(ctx, account)
	list := make([]TeamRoles, len(rows))
	for i, r := range rows {
		list[i] = TeamRoles{Team{r.ID, r.Name, r.TimeZone}, r.Roles}
	}
	return list, err
}

// SignInLine is a device that somebody is signed in on.
type SignInLine struct {
	ID      uuid.UUID `json:"id"`
	Device  string    `json:"device"`
	MadeAt  time.Time `json:"made_at"`
	SeenAt  time.Time `json:"seen_at"`
	Present bool      `json:"present,omitempty" doc:"the device that asks"`
}

// SignIns gives where somebody is signed in.
func (s *Store) SignIns(ctx context.Context, account uuid.UUID) ([]SignInLine, error) {
	rows, err := s.q.SignIns(ctx, account)
	list := make([]SignInLine, len(rows))
	for i, r := range rows {
		list[i] = SignInLine{ID: r.ID, Device: r.Device, MadeAt: r.MadeAt.Time, SeenAt: r.SeenAt.Time}
	}
	return list, err
}

// EndSignIn ends a sign-in of an account, wherever it is.
func (s *Store) EndSignIn(ctx context.Context, account, signIn uuid.UUID) error {
	_, err := s.q.EndSignIn(ctx, sqlc.EndSignInParams{ID: signIn, AccountID: account})
	return missing(err)
}

// Wrong gives how many wrong guesses at something were noted in the last quarter of an
// hour, and how long ago the last was.
func (s *Store) Wrong(ctx context.Context, key string) (n int, ago time.Duration, err error) {
	row, err := s.q.Attempts(ctx, key)
	return int(row.Count), time.Duration(row.Ago * float64(time.Second)), err
}

// NoteWrong notes a wrong guess at some things.
func (s *Store) NoteWrong(ctx context.Context, keys ...string) error {
	return s.q.AddAttempts(ctx, keys)
}

// Spend takes n from what an account may send: at most burst at once, and rate a second.
// Wait is how long until that many may be sent; 0 where they were taken.
func (s *Store) Spend(ctx context.Context, account uuid.UUID, n, rate, burst int) (wait time.Duration, err error) {
	ask := sqlc.SpendParams{AccountID: account, Burst: float64(burst), N: float64(n), Rate: float64(rate)}
	if _, err = s.q.Spend(ctx, ask); !errors.Is(err, pgx.ErrNoRows) {
		return 0, err
	}
	has, err := s.q.Allowance(ctx, sqlc.AllowanceParams{AccountID: account, Burst: float64(burst), Rate: float64(rate)})
	return max(time.Second, time.Duration((float64(n)-has)/float64(rate)*float64(time.Second))), err
}

// KnowsDevice reports whether an account was signed in on a device before, by the
// sign-ins that the device names.
func (s *Store) KnowsDevice(ctx context.Context, account uuid.UUID, signIns []uuid.UUID) (bool, error) {
	if len(signIns) == 0 {
		return false, nil
	}
	return s.q.KnowsDevice(ctx, sqlc.KnowsDeviceParams{AccountID: account, Ids: signIns})
}

// Forget takes the count of wrong guesses back, once one was right.
func (s *Store) Forget(ctx context.Context, key string) error {
	return errors.Join(s.q.ForgetAttempts(ctx, key), s.q.ForgetOldAttempts(ctx))
}

// Membership is somebody who may sign in to a team.
type Membership struct {
	Account uuid.UUID `json:"account"`
	Login   string    `json:"login"`
	Name    string    `json:"name"`
	Person  string    `json:"person,omitempty" doc:"who on the team's drops this is"`
	// NobodyBy is the supervisor who has said that they are nobody there.
	NobodyBy string   `json:"nobody_by,omitempty" doc:"supervisor who has said that they are nobody on the team's drops"`
	Roles    []string `json:"roles" enum:"technician,supervisor,store-keeper,trainer,reader"`
	// Until is the last day on which somebody from outside is in the team.
	Until    gear.Date `json:"until,omitempty" format:"date" doc:"the last day on which they are in the team, by its own time; left out: for good"`
	Revision int       `json:"revision,omitempty"`
}

// Members gives who may sign in to a team.
func (s *Store) Members(ctx context.Context, team uuid.UUID) ([]Membership, error) {
	rows, err := s.q.Members(ctx, team)
	list := make([]Membership, len(rows))
	for i, r := range rows {
		list[i] = membership(sqlc.MemberRow(r))
	}
	return list, err
}

func membership(r sqlc.MemberRow) Membership {
	return Membership{Account: r.ID, Login: r.Login, Name: r.Name, Person: value(r.PersonID), NobodyBy: value(r.NobodyBy), Roles: r.Roles, Until: fromDate(r.Until), Revision: int(r.Revision)}
}

// SetMember changes the roles of a member and who on the drops it is: a person, or
// nobody, by who has said so first, or not known. That nobody says it of themself is for
// the caller to see. A revision that is given must be the one that is there (ErrConflict).
func (s *Store) SetMember(ctx context.Context, team Team, signer *record.Signer, account uuid.UUID, m Membership) error {
	return s.changeMember(ctx, team, signer, sqlc.MemberParams{TeamID: team.ID, Account: account}, func(q *sqlc.Queries, was *Membership) error {
		if was == nil {
			return ErrNotFound
		}
		if m.Revision != 0 && m.Revision != was.Revision {
			return &ConflictError{Version: was.Revision}
		}
		if slices.Equal(m.Roles, was.Roles) && m.Until == was.Until && m.Person == was.Person && (m.NobodyBy == "") == (was.NobodyBy == "") {
			return nil
		}
		_, err := q.SetRoles(ctx, sqlc.SetRolesParams{AccountID: account, TeamID: team.ID, Roles: m.Roles, PersonID: pointer(m.Person), NobodyBy: pointer(m.NobodyBy), Until: toDate(m.Until)})
		return missing(err)
	})
}

// Link ties a login to a person of the team; ErrNotFound where the team has no such
// member, ErrRefused where it has no such person or somebody else is tied to them.
func (s *Store) Link(ctx context.Context, team Team, signer *record.Signer, login, person string) error {
	return s.changeMember(ctx, team, signer, sqlc.MemberParams{TeamID: team.ID, Login: login}, func(q *sqlc.Queries, _ *Membership) error {
		_, err := q.LinkMember(ctx, sqlc.LinkMemberParams{Login: login, TeamID: team.ID, PersonID: &person})
		return missing(err)
	})
}

// RemoveMember takes somebody out of a team; their records stand.
func (s *Store) RemoveMember(ctx context.Context, team Team, signer *record.Signer, account uuid.UUID) error {
	return s.changeMember(ctx, team, signer, sqlc.MemberParams{TeamID: team.ID, Account: account}, func(q *sqlc.Queries, _ *Membership) error {
		_, err := q.RemoveMembership(ctx, sqlc.RemoveMembershipParams{AccountID: account, TeamID: team.ID})
		return missing(err)
	})
}

// changeMember does something to a member of a team, which must leave it a supervisor, and
// records what it changed. Was is nil for somebody who is not in the team.
func (s *Store) changeMember(ctx context.Context, team Team, signer *record.Signer, who sqlc.MemberParams, do func(q *sqlc.Queries, was *Membership) error) error {
	return s.inTx(ctx, func(q *sqlc.Queries) error {
		l, err := s.openLedger(ctx, q, team.ID)
		if err != nil {
			return err
		}
		was, err := member(ctx, q, who)
		if err != nil {
			return err
		}
		if err := do(q, was); err != nil {
			return err
		}
		is, err := member(ctx, q, who)
		if err != nil {
			return err
		}
		n, err := q.Supervisors(ctx, team.ID)
		if err != nil {
			return err
		}
		if n == 0 && was != nil {
			return ErrLastSupervisor
		}
		return l.memberChanged(ctx, team, signer, was, is)
	})
}

// member is somebody in a team; nil for somebody who is not.
func member(ctx context.Context, q *sqlc.Queries, who sqlc.MemberParams) (*Membership, error) {
	row, err := q.Member(ctx, who)
	if errors.Is(err, pgx.ErrNoRows) {
		return nil, nil
	}
	m := membership(row)
	return &m, err
}

// memberChanged records who came, left, or is something else now.
func (l *ledger) memberChanged(ctx context.Context, team Team, signer *record.Signer, was, is *Membership) error {
	row := record.ChangedRow{Kind: "member"}
	for at, m := range map[*json.RawMessage]*Membership{&row.Before: was, &row.After: is} {
		if m == nil {
			continue
		}
		row.ID, row.Revision = m.Account.String(), max(row.Revision, m.Revision)
		said := *m
		said.Revision = 0
		*at = text(said)
	}
	if bytes.Equal(row.Before, row.After) {
		return nil
	}
	if err := l.change(signer, record.MemberChange, "", &record.Changed{Count: 1, Rows: []record.ChangedRow{row}}); err != nil {
		return err
	}
	return l.changed(ctx, team, signer, Change{Records: true})
}

// Invitation is an invitation that nobody has taken yet.
type Invitation struct {
	ID     uuid.UUID `json:"id"`
	Name   string    `json:"name" doc:"who is invited"`
	Person string    `json:"person,omitempty"`
	Roles  []string  `json:"roles" enum:"technician,supervisor,store-keeper,trainer,reader"`
	MadeBy string    `json:"made_by"`
	// MadeByID is the supervisor who made it: it is open as long as they are one. Nil for the
	// program's own command.
	MadeByID *uuid.UUID `json:"-"`
	Until    gear.Date  `json:"until,omitempty" format:"date" doc:"the last day on which they are in the team; left out: for good"`
	EndsAt   time.Time  `json:"ends_at"`
}

// Invite keeps an invitation to a team. Only the token's hash is kept.
func (s *Store) Invite(ctx context.Context, team uuid.UUID, token string, i Invitation) (*Invitation, error) {
	members, err := s.Members(ctx, team)
	if err != nil {
		return nil, err
	}
	// Nobody could take it: a person has one account.
	if at := slices.IndexFunc(members, func(m Membership) bool { return i.Person != "" && m.Person == i.Person }); at >= 0 {
		return nil, &strict.Error{Faults: []strict.Fault{{Pointer: "/person", Detail: "the login " + members[at].Login + " is this person already"}}}
	}
	row, err := s.q.AddInvitation(ctx, sqlc.AddInvitationParams{
		TeamID: team, TokenHash: hashOf(token), Name: i.Name, PersonID: pointer(i.Person), Roles: i.Roles, MadeBy: i.MadeBy, MadeByID: i.MadeByID, Until: toDate(i.Until),
	})
	i.ID, i.EndsAt = row.ID, row.EndsAt.Time
	return &i, refused(err)
}

// Invitations gives those that are open.
func (s *Store) Invitations(ctx context.Context, team uuid.UUID) ([]Invitation, error) {
	rows, err := s.q.Invitations(ctx, team)
	list := make([]Invitation, len(rows))
	for i, r := range rows {
		list[i] = Invitation{ID: r.ID, Name: r.Name, Person: value(r.PersonID), Roles: r.Roles, MadeBy: r.MadeBy, Until: fromDate(r.Until), EndsAt: r.EndsAt.Time}
	}
	return list, err
}

// RemoveInvitation takes an open invitation back.
func (s *Store) RemoveInvitation(ctx context.Context, team, id uuid.UUID) error {
	_, err := s.q.RemoveInvitation(ctx, sqlc.RemoveInvitationParams{TeamID: team, ID: id})
	return missing(err)
}

// Join takes an invitation, once: with a new account, or, where that is nil, with
// one that there is. ErrNotFound for an invitation that is not open, also since whoever made it
// may not invite any more.
func (s *Store) Join(ctx context.Context, token string, fresh *NewAccount, account uuid.UUID) (uuid.UUID, error) {
	err := s.inTx(ctx, func(q *sqlc.Queries) error {
		i, err := q.OpenInvitation(ctx, hashOf(token))
		if err != nil {
			return missing(err)
		}
		if fresh != nil {
			if account, err = addAccount(ctx, q, fresh); err != nil {
				return err
			}
		}
		if err := q.TakeInvitation(ctx, sqlc.TakeInvitationParams{ID: i.ID, TakenBy: &account}); err != nil {
			return err
		}
		return s.comeIn(ctx, q, account, &i)
	})
	return account, err
}

// comeIn makes an account a member, as its invitation says.
func (s *Store) comeIn(ctx context.Context, q *sqlc.Queries, account uuid.UUID, i *sqlc.OpenInvitationRow) error {
	team := Team{ID: i.TeamID, Name: i.TeamName}
	l, err := s.openLedger(ctx, q, team.ID)
	if err != nil {
		return err
	}
	m := sqlc.AddMembershipParams{AccountID: account, TeamID: team.ID, PersonID: i.PersonID, Roles: i.Roles, Until: i.Until}
	if err := q.AddMembership(ctx, m); err != nil {
		return err
	}
	is, err := member(ctx, q, sqlc.MemberParams{TeamID: team.ID, Account: account})
	if err != nil {
		return err
	}
	return l.memberChanged(ctx, team, &record.Signer{Account: account, Name: is.Name}, nil, is)
}

func addAccount(ctx context.Context, q *sqlc.Queries, a *NewAccount) (uuid.UUID, error) {
	id, err := q.AddAccount(ctx, sqlc.AddAccountParams{Login: a.Login, Name: a.Name, PasswordHash: a.Hash, Demo: a.Demo})
	if errors.Is(err, pgx.ErrNoRows) {
		return uuid.Nil, ErrTaken
	}
	return id, err
}

func hashOf(token string) []byte {
	sum := sha256.Sum256([]byte(token))
	return sum[:]
}
