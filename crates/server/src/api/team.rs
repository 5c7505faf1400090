//! The team: its people with what they reach, its groups, invitations, and its log.

use super::people::PersonView;
use crate::{
    app::App,
    here::Caller,
    live::Live,
    problem::{Json, Problem},
    refusal::Refusal,
    team::TeamDone,
};
use axum::{
    extract::{Path, State},
    http::StatusCode,
};
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use std::{
    collections::{BTreeMap, BTreeSet},
    sync::Arc,
};
use utoipa::ToSchema;
use westerfall_core::{
    Clock,
    access::{Asker, Base, Shares},
    dataset::Dataset,
    face::TeamLook,
    fault::{Fault, FaultKind, Faults},
    id::{GroupId, PersonId, TrackerId},
    intent::{HandOver, Held, Holding, Intent},
    people::{Group, Person, Standing},
    team::{Newcomer, Sending, Team, TeamAsker, TeamHolding, TeamIntent, TeamPart},
    value::{Customs, moment_text},
};
use westerfall_store::{InvitationRow, JobState, Letter, Purpose};

/// Changes of the team's log that are listed.
const LISTED: i64 = 100;

/// The team as somebody sees it.
#[derive(Serialize, ToSchema)]
pub(super) struct TeamView {
    name: String,
    /// How it looks where it is seen from outside.
    look: TeamLook,
    /// When and how fast messages go out by themselves.
    sending: Sending,
    /// *8 people and 1 on the way, in 3 trackers.*
    says: String,
    /// Whether one owns the team.
    owns: bool,
    /// Whether one lets people in.
    lets_in: bool,
    people: Vec<PersonLine>,
    groups: Vec<GroupLine>,
    /// The trackers in which one may know what people reach.
    trackers: Vec<TrackerName>,
}

/// A tracker by its name.
#[derive(Serialize, ToSchema)]
pub(super) struct TrackerName {
    id: TrackerId,
    name: String,
}

/// A person of the team.
#[derive(Serialize, ToSchema)]
pub(super) struct PersonLine {
    person: PersonView,
    about: String,
    /// To those who let people in, and to themselves.
    mail: Option<String>,
    phone: Option<String>,
    owner: bool,
    standing: Standing,
    /// How far somebody has come who is invited, station by station.
    stations: Vec<Station>,
    /// When they were last here, in words; to those who let people in.
    last: String,
    /// What they reach, tracker by tracker: of those that [`TeamView::trackers`] names.
    reaches: Vec<Reaches>,
}

/// One step of coming in.
#[derive(Serialize, ToSchema)]
pub(super) struct Station {
    words: String,
    done: bool,
}

/// What somebody reaches in one tracker.
#[derive(Serialize, ToSchema)]
pub(super) struct Reaches {
    tracker: TrackerId,
    shares: Shares,
    /// The same in a few words: *Wardens: looks at 21 %, adds, changes 21 %*.
    words: String,
}

/// A group.
#[derive(Serialize, ToSchema)]
pub(super) struct GroupLine {
    id: GroupId,
    name: String,
    members: BTreeSet<PersonId>,
    /// What stands on top at home for whoever is in it.
    pins: Vec<TrackerId>,
}

/// The team's people, groups and invitations.
#[utoipa::path(get, path = "/api/team", responses((status = 200, body = TeamView)))]
pub(super) async fn show(State(app): State<App>, caller: Caller) -> Result<Json<TeamView>, Problem> {
    let me = seeing(&caller)?;
    let team = app.team.now();
    let TeamAsker::Person { lets_in, .. } = app.team.asker(me).await? else { return Err(Refusal::NotSignedIn.into()) };
    let owns = team.is_owner(me);
    let known = known_trackers(&app, me, owns).await?;
    let seen = if lets_in { app.store.last_seen().await? } else { BTreeMap::new() };
    let invitations = if lets_in { app.store.invitations().await? } else { Vec::new() };
    let letters = if lets_in { app.store.invitation_letters().await? } else { BTreeMap::new() };
    let clock = app.team.clock_for(me);
    let view = move || {
        let trackers = known.iter().map(|(live, _)| TrackerName { id: live.id, name: live.now().tracker.name.clone() }).collect();
        let line = |person: &Person| {
            let own = person.id == me;
            let invitation = invitations.iter().find(|row| row.person == person.id);
            let may_know = |all: &bool| *all || own;
            PersonLine {
                about: person.about.clone(),
                mail: (lets_in || own).then(|| person.mail.clone()),
                phone: (lets_in || own).then(|| person.phone.clone()),
                owner: person.owner,
                standing: person.standing,
                stations: if person.standing == Standing::Invited && lets_in {
                    stations(invitation, letters.get(&person.id), &clock)
                } else {
                    Vec::new()
                },
                last: seen.get(&person.id).map_or_else(String::new, |at| last_words(*at, &clock)),
                reaches: known.iter().filter(|(_, all)| may_know(all)).filter_map(|(live, _)| reaches(live, person.id)).collect(),
                person: person.into(),
            }
        };
        let people: Vec<PersonLine> = team.people().iter().map(line).collect();
        let group =
            |group: &Group| GroupLine { id: group.id, name: group.name.clone(), members: group.members.clone(), pins: group.pins.clone() };
        TeamView {
            says: says(&team, known.len(), clock.customs()),
            name: team.name().to_owned(),
            look: team.face().look.clone(),
            sending: team.sending(),
            owns,
            lets_in,
            people,
            groups: team.people().groups().map(group).collect(),
            trackers,
        }
    };
    Ok(Json(app.rooms.read(view).await?))
}

/// As whom somebody looks at the team: whom they stand in for, if they do.
fn seeing(caller: &Caller) -> Result<PersonId, Problem> {
    match caller.asker() {
        Asker::StandingIn { r#as, .. } => Ok(r#as),
        _ => caller.person(),
    }
}

/// The trackers somebody is in; with each, whether they may know what others reach there: its stewards may, and the team's owners.
async fn known_trackers(app: &App, me: PersonId, owns: bool) -> Result<Vec<(Arc<Live>, bool)>, Problem> {
    let mut known = Vec::new();
    for id in app.store.trackers().await? {
        let live = app.tracker(id).await?;
        let ds = live.now();
        let all = owns || ds.holds(me, &[Base::Steward]);
        if all || Asker::Person(me).may_look_at(&ds) {
            known.push((live, all));
        }
    }
    Ok(known)
}

fn reaches(live: &Live, person: PersonId) -> Option<Reaches> {
    let look = live.look(Asker::Person(person)).ok()?;
    let shares = look.lens().shares();
    Some(Reaches { tracker: live.id, words: share_words(&shares), shares })
}

fn share_words(shares: &Shares) -> String {
    let share = |verb: &str, of: u16| match of {
        0 => None,
        1_000 => Some(format!("{verb} all")),
        some => Some(format!("{verb} {} %", (f64::from(some) / 10.0).round().max(1.0))),
    };
    let mut verbs: Vec<String> = Vec::new();
    verbs.extend(share("looks at", shares.look));
    verbs.extend((shares.add > 0).then(|| "adds".to_owned()));
    verbs.extend(share("changes", shares.change));
    verbs.extend(share("removes", shares.remove));
    verbs.extend(shares.build.then(|| "builds".to_owned()));
    if verbs.is_empty() {
        verbs.push("reaches nothing".to_owned());
    }
    format!("{}: {}", shares.by.join(", "), verbs.join(", "))
}

fn says(team: &Team, trackers: usize, customs: Customs) -> String {
    let count = |standing: Standing| team.people().iter().filter(|p| p.standing == standing).count();
    let (here, invited, left) = (count(Standing::Here), count(Standing::Invited), count(Standing::Left));
    let mut words = customs.count_words(here, "person", "people");
    if invited > 0 {
        words += &format!(" and {invited} on the way");
    }
    if trackers > 0 {
        words += &format!(", in {}", customs.count_words(trackers, "tracker", "trackers"));
    }
    if left > 0 {
        words += &format!("; {left} {} left", if left == 1 { "has" } else { "have" });
    }
    words + "."
}

/// Where an invitation got stuck is seen by its stations.
fn stations(invitation: Option<&InvitationRow>, letter: Option<&Letter>, clock: &Clock) -> Vec<Station> {
    let day = |at: Timestamp| {
        let day = at.to_zoned(clock.told.clone()).date();
        if day.year() == clock.today().year() { clock.customs().day_of_year(day) } else { clock.customs().date_text(day) }
    };
    let station = |words: String, done: bool| Station { words, done };
    let here = || station("here".into(), false);
    let Some(row) = invitation else { return vec![station("named".into(), true), station("not told yet".into(), false), here()] };
    let sent = if row.mailed { format!("mailed {}", day(row.made)) } else { format!("link made {}", day(row.made)) };
    // What never arrived is the end of the way, with what the mail server said of it.
    if let Some(Letter { state: JobState::Failed | JobState::Unsure, note, .. }) = letter.filter(|_| row.mailed && row.opened.is_none()) {
        let why = if note.is_empty() { "the mail server did not take it" } else { note };
        return vec![station(format!("{sent}, not delivered: {why}"), false), here()];
    }
    let opened = row.opened.map_or_else(|| station("opened".into(), false), |at| station(format!("opened {}", day(at)), true));
    let way = if row.expires <= clock.now {
        format!("over since {}", day(row.expires))
    } else {
        format!("chooses a way in until {}", day(row.expires))
    };
    vec![station(sent, true), opened, station(way, false), here()]
}

fn last_words(at: Timestamp, clock: &Clock) -> String {
    if clock.now.duration_since(at) < jiff::SignedDuration::from_mins(6) {
        return "now".into();
    }
    let then = at.to_zoned(clock.zone.clone()).date();
    if then == clock.today() { at.to_zoned(clock.zone.clone()).strftime("%H:%M").to_string() } else { clock.customs().date_text(then) }
}

/// Who is let in, and how they are told.
#[derive(Deserialize, ToSchema)]
pub(super) struct LetInBody {
    people: Vec<Newcomer>,
    /// Mails each their invitation, where an address is known.
    #[serde(default)]
    mail: bool,
    /// A word of one's own that goes with it.
    #[serde(default)]
    word: String,
    /// Only say whether it would do.
    #[serde(default)]
    rehearse: bool,
}

/// What came of letting people in.
#[derive(Serialize, ToSchema)]
pub(super) struct LetIn {
    done: Option<TeamDone>,
    people: Vec<PersonId>,
    /// What happens, or happened, in a sentence.
    says: String,
}

/// Longest word that goes with an invitation, in characters.
const WORD_LIMIT: usize = 2_000;

/// Names people, and mails them their invitations where that is wanted.
#[utoipa::path(post, path = "/api/team/people", request_body = LetInBody, responses((status = 200, body = LetIn)))]
pub(super) async fn let_in(State(app): State<App>, caller: Caller, Json(body): Json<LetInBody>) -> Result<Json<LetIn>, Problem> {
    let (me, asker) = acting(&app, &caller).await?;
    if body.word.chars().count() > WORD_LIMIT {
        return Err(Fault::new(FaultKind::TooLong, format!("A word to them has at most {WORD_LIMIT} characters.")).at("/word").into());
    }
    let told = if body.mail { body.people.iter().filter(|p| !p.mail.trim().is_empty()).count() } else { 0 };
    let (count, verb) = (body.people.len(), if body.rehearse { ("would be named", "would get a mail") } else { ("named", "got a mail") });
    let says = format!("{} {}, {} {}.", Customs::default().count_words(count, "person", "people"), verb.0, told, verb.1);
    let intent = TeamIntent::Add(body.people);
    if body.rehearse {
        app.team.now().decide(&intent, &asker, Timestamp::now())?;
        return Ok(Json(LetIn { done: None, people: Vec::new(), says }));
    }
    let change = app.act_on_team(asker, intent).await?;
    let named = |op: &westerfall_core::team::Put| if let Some(TeamPart::Person(person)) = &op.after { Some(person.clone()) } else { None };
    let people: Vec<Person> = change.ops.iter().filter_map(named).collect();
    if body.mail {
        for person in people.iter().filter(|p| !p.mail.is_empty()) {
            app.mail_invitation(person.id, me, &body.word).await?;
        }
    }
    Ok(Json(LetIn { done: Some((&change).into()), people: people.iter().map(|p| p.id).collect(), says }))
}

/// Who does something, and as whom.
pub(super) async fn acting(app: &App, caller: &Caller) -> Result<(PersonId, TeamAsker), Problem> {
    caller.actor()?;
    let me = caller.person()?;
    Ok((me, app.team.asker(me).await?))
}

/// An invitation as it is handed over.
#[derive(Serialize, ToSchema)]
pub(super) struct InvitationLink {
    /// Shown once: only its hash is kept.
    link: String,
}

/// Somebody's invitation anew: by mail, or as a link to hand over. What was given before is worth nothing from here on.
#[derive(Deserialize, ToSchema)]
pub(super) struct InviteBody {
    mail: bool,
    #[serde(default)]
    word: String,
}

/// Invites somebody who was named.
#[utoipa::path(
    post,
    path = "/api/team/people/{person}/invitation",
    params(("person" = u32, Path)),
    request_body = InviteBody,
    responses((status = 200, body = Option<InvitationLink>))
)]
pub(super) async fn invite(
    State(app): State<App>,
    caller: Caller,
    Path(person): Path<PersonId>,
    Json(body): Json<InviteBody>,
) -> Result<Json<Option<InvitationLink>>, Problem> {
    let (me, asker) = acting(&app, &caller).await?;
    let known = invitee(&app, asker, person)?;
    if body.mail {
        if known.mail.is_empty() {
            return Err(Fault::new(FaultKind::Missing, "No address is known. Say one, or hand over a link.").at("/mail").into());
        }
        app.mail_invitation(person, me, &body.word).await?;
        return Ok(Json(None));
    }
    Ok(Json(Some(InvitationLink { link: app.invitation_link(person).await? })))
}

/// Whoever is invited, to those who let people in.
fn invitee(app: &App, asker: TeamAsker, person: PersonId) -> Result<Person, Problem> {
    let team = app.team.now();
    let TeamAsker::Person { me, lets_in, .. } = asker else { return Err(Fault::not_found("invitation").into()) };
    let known = team.people().get(person).filter(|p| lets_in && p.standing == Standing::Invited);
    let known = known.ok_or_else(|| Fault::not_found("invitation"))?;
    if team.invites(me, lets_in, known) {
        return Ok(known.clone());
    }
    Err(Fault::new(FaultKind::NotAllowed, "They are invited by whoever named them, or by an owner of the team.").into())
}

/// Takes an invitation back: its address leads nowhere from here on. Whoever was invited stays named.
#[utoipa::path(
    delete,
    path = "/api/team/people/{person}/invitation",
    params(("person" = u32, Path)),
    responses((status = 204))
)]
pub(super) async fn take_back(State(app): State<App>, caller: Caller, Path(person): Path<PersonId>) -> Result<StatusCode, Problem> {
    let (_, asker) = acting(&app, &caller).await?;
    invitee(&app, asker, person)?;
    app.store.withdraw_tickets(person, Purpose::Invitation).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// What is known of somebody.
#[derive(Deserialize, ToSchema)]
pub(super) struct PersonBody {
    name: String,
    #[serde(default)]
    mail: String,
    #[serde(default)]
    about: String,
    #[serde(default)]
    phone: String,
    /// Nothing: as they chose it.
    #[serde(default)]
    zone: Option<String>,
    #[serde(default)]
    owner: bool,
}

/// Changes what is known of somebody.
#[utoipa::path(
    put,
    path = "/api/team/people/{person}",
    params(("person" = u32, Path)),
    request_body = PersonBody,
    responses((status = 200, body = TeamDone))
)]
pub(super) async fn change(
    State(app): State<App>,
    caller: Caller,
    Path(person): Path<PersonId>,
    Json(body): Json<PersonBody>,
) -> Result<Json<TeamDone>, Problem> {
    let (_, asker) = acting(&app, &caller).await?;
    let known = app.team.people().get(person).cloned().ok_or_else(|| Fault::not_found("person"))?;
    let PersonBody { name, mail, about, phone, zone, owner } = body;
    let zone = zone.unwrap_or_else(|| known.zone.clone());
    let after = Person { name, mail, about, phone, zone, owner, ..known };
    Ok(Json((&app.act_on_team(asker, TeamIntent::Change(after)).await?).into()))
}

/// What hangs on somebody in one tracker.
#[derive(Serialize, ToSchema)]
pub(super) struct HoldingsIn {
    tracker: TrackerId,
    name: String,
    holdings: Vec<Holding>,
    /// They are its only steward: somebody else has to be first.
    only_steward: bool,
}

/// What hangs on somebody.
#[derive(Serialize, ToSchema)]
pub(super) struct Holdings {
    /// Tracker by tracker.
    trackers: Vec<HoldingsIn>,
    /// In the team itself.
    team: Vec<TeamHolding>,
}

/// What hangs on somebody, tracker by tracker and in the team. For the team's owners.
#[utoipa::path(
    get,
    path = "/api/team/people/{person}/holdings",
    params(("person" = u32, Path)),
    responses((status = 200, body = Holdings))
)]
pub(super) async fn holdings(State(app): State<App>, caller: Caller, Path(person): Path<PersonId>) -> Result<Json<Holdings>, Problem> {
    let me = seeing(&caller)?;
    if !app.team.now().is_owner(me) {
        return Err(Fault::not_found("person").into());
    }
    let mut all = Vec::new();
    for id in app.store.trackers().await? {
        let live = app.tracker(id).await?;
        let held = app.rooms.read(move || {
            let look = live.look(Asker::Westerfall).ok()?;
            let holdings = look.lens().held_by(person);
            let only_steward = is_only_steward(&look.dataset, person);
            let name = look.dataset.tracker.name.clone();
            (only_steward || !holdings.is_empty()).then_some(HoldingsIn { tracker: id, name, holdings, only_steward })
        });
        all.extend(held.await?);
    }
    let tasks = app.store.open_tasks_of(person).await?;
    Ok(Json(Holdings { trackers: all, team: app.team.now().held_by(person, tasks) }))
}

fn is_only_steward(ds: &Dataset, person: PersonId) -> bool {
    let stewards: BTreeSet<PersonId> = ds
        .roles()
        .filter(|role| role.base == Base::Steward)
        .flat_map(|role| role.holders(&ds.people))
        .filter(|holder| holder.standing.is_here())
        .map(|holder| holder.id)
        .collect();
    stewards.len() == 1 && stewards.contains(&person)
}

/// One sort of thing that hangs on somebody, and to whom it goes.
#[derive(Deserialize, ToSchema)]
pub(super) struct HandedOver {
    tracker: TrackerId,
    held: Held,
    to: PersonId,
}

/// Whether somebody works here.
#[derive(Deserialize, ToSchema)]
pub(super) struct StandingBody {
    /// False: they leave. True: they are invited again.
    here: bool,
    /// What hangs on them and goes to others; the rest stays under their name.
    #[serde(default)]
    hand_over: Vec<HandedOver>,
    /// To whom goes what was asked of them and is not done, and to whom their dashboards; nothing: it stays theirs.
    #[serde(default)]
    tasks_to: Option<PersonId>,
    #[serde(default)]
    dashboards_to: Option<PersonId>,
}

impl StandingBody {
    /// What is done to the team.
    fn leaves(&self, person: PersonId) -> TeamIntent {
        self.dashboards_to.map_or(TeamIntent::Leave(person), |to| TeamIntent::LeaveBoards { person, to })
    }

    fn hands_over(&self) -> bool {
        !self.hand_over.is_empty() || self.tasks_to.is_some() || self.dashboards_to.is_some()
    }
}

/// Lets somebody go, or invites them again. They are signed out everywhere; what they did keeps their name.
#[utoipa::path(
    put,
    path = "/api/team/people/{person}/standing",
    params(("person" = u32, Path)),
    request_body = StandingBody,
    responses((status = 200, body = TeamDone))
)]
pub(super) async fn stand(
    State(app): State<App>,
    caller: Caller,
    Path(person): Path<PersonId>,
    Json(body): Json<StandingBody>,
) -> Result<Json<TeamDone>, Problem> {
    let (me, asker) = acting(&app, &caller).await?;
    if body.here {
        return Ok(Json((&app.act_on_team(asker, TeamIntent::Return(person)).await?).into()));
    }
    // What would be refused is, before anything is handed over.
    let (leaves, hands_over) = (body.leaves(person), body.hands_over());
    app.team.now().decide(&leaves, &asker, Timestamp::now())?;
    if hands_over && !app.team.now().is_owner(me) {
        return Err(Fault::new(FaultKind::NotAllowed, "What hangs on somebody is handed over by the team’s owners.").into());
    }
    let here = |to: PersonId| to != person && app.team.people().get(to).is_some_and(|one| !one.has_left());
    if body.tasks_to.is_some_and(|to| !here(to)) {
        return Err(Fault::not_found("person").at("/tasks_to").into());
    }
    let mut by_tracker: BTreeMap<TrackerId, Vec<(Held, PersonId)>> = BTreeMap::new();
    for HandedOver { tracker, held, to } in body.hand_over {
        by_tracker.entry(tracker).or_default().push((held, to));
    }
    not_left_without_steward(&app, person, &by_tracker).await?;
    let mut handed = Vec::new();
    for (tracker, to) in by_tracker {
        let intent = Intent::HandOver(HandOver { from: person, to, by: me });
        let done = app.tracker(tracker).await?.act(Asker::Westerfall, intent).await?;
        handed.extend(done.seq.map(|seq| (tracker, seq)));
    }
    let left = app.act_on_team(asker, leaves).await?;
    app.store.note_handed(left.seq, &handed).await?;
    if let Some(to) = body.tasks_to {
        app.store.hand_tasks(person, to, left.seq).await?;
    }
    Ok(Json((&left).into()))
}

/// What takes back what was handed over with a change of the team, tracker by tracker; first it is seen that all of it can be.
///
/// # Errors
/// Something of it was changed since: in which tracker, and why.
async fn handing_back(app: &App, me: PersonId, seq: u64) -> Result<Vec<(Arc<Live>, Asker, Intent)>, Problem> {
    let mut back = Vec::new();
    for (tracker, seq) in app.store.handed(seq).await? {
        let live = app.tracker(tracker).await?;
        let change = app.store.change(tracker, seq).await?.ok_or_else(|| Fault::not_found("step"))?;
        let intent = Intent::Undo { change: Box::new(change), shared: false };
        // An owner who runs the tracker does it in their own name; for one who does not work there it is done.
        let asker = if live.now().holds(me, &[Base::Steward]) { Asker::Person(me) } else { Asker::Westerfall };
        let look = live.look(asker)?;
        if let Err(Faults(faults)) = crate::live::rehearse(&look, &intent) {
            let name = &look.dataset.tracker.name;
            let why = faults.first().map_or("", |fault| fault.message.as_str());
            return Err(Fault::new(FaultKind::Clash, format!("What was handed over in {name} stays so: {why}")).into());
        }
        back.push((live, asker, intent));
    }
    Ok(back)
}

/// Nobody goes who is the only steward of a tracker, unless that is handed over.
async fn not_left_without_steward(app: &App, person: PersonId, handed: &BTreeMap<TrackerId, Vec<(Held, PersonId)>>) -> Result<(), Problem> {
    let roles = Held::Parts { sort: "role".into() };
    for tracker in app.store.trackers().await? {
        let goes_on = handed.get(&tracker).is_some_and(|all| all.iter().any(|(held, _)| *held == roles));
        let ds = app.tracker(tracker).await?.now();
        if !goes_on && is_only_steward(&ds, person) {
            let (name, tracker) = (ds.people.name(person), &ds.tracker.name);
            let message = format!("{name} is the only steward of {tracker}. Make somebody else its steward first.");
            return Err(Fault::new(FaultKind::NotAllowed, message).into());
        }
    }
    Ok(())
}

/// A group as it shall be.
#[derive(Deserialize, ToSchema)]
pub(super) struct GroupBody {
    name: String,
    members: BTreeSet<PersonId>,
    /// What stands on top at home for whoever is in it; nothing: what stands there now.
    #[serde(default)]
    pins: Option<Vec<TrackerId>>,
}

/// Makes a group.
#[utoipa::path(post, path = "/api/team/groups", request_body = GroupBody, responses((status = 200, body = TeamDone)))]
pub(super) async fn make_group(State(app): State<App>, caller: Caller, Json(body): Json<GroupBody>) -> Result<Json<TeamDone>, Problem> {
    let (_, asker) = acting(&app, &caller).await?;
    let intent = TeamIntent::Group { id: None, name: body.name, members: body.members, pins: body.pins.unwrap_or_default() };
    Ok(Json((&app.act_on_team(asker, intent).await?).into()))
}

/// Changes a group: everybody in it gains what its roles give, in every tracker, and everybody taken out loses it.
#[utoipa::path(
    put,
    path = "/api/team/groups/{group}",
    params(("group" = u32, Path)),
    request_body = GroupBody,
    responses((status = 200, body = TeamDone))
)]
pub(super) async fn save_group(
    State(app): State<App>,
    caller: Caller,
    Path(group): Path<GroupId>,
    Json(body): Json<GroupBody>,
) -> Result<Json<TeamDone>, Problem> {
    let (_, asker) = acting(&app, &caller).await?;
    let known = || app.team.people().group(group).map(|group| group.pins.clone()).unwrap_or_default();
    let intent = TeamIntent::Group { id: Some(group), name: body.name, members: body.members, pins: body.pins.unwrap_or_else(known) };
    Ok(Json((&app.act_on_team(asker, intent).await?).into()))
}

/// Takes a group away.
#[utoipa::path(delete, path = "/api/team/groups/{group}", params(("group" = u32, Path)), responses((status = 200, body = TeamDone)))]
pub(super) async fn drop_group(State(app): State<App>, caller: Caller, Path(group): Path<GroupId>) -> Result<Json<TeamDone>, Problem> {
    let (_, asker) = acting(&app, &caller).await?;
    Ok(Json((&app.act_on_team(asker, TeamIntent::DropGroup(group)).await?).into()))
}

/// What the team is called.
#[derive(Deserialize, ToSchema)]
pub(super) struct TeamBody {
    name: String,
}

/// Another name of the team.
#[utoipa::path(put, path = "/api/team", request_body = TeamBody, responses((status = 200, body = TeamDone)))]
pub(super) async fn rename(State(app): State<App>, caller: Caller, Json(body): Json<TeamBody>) -> Result<Json<TeamDone>, Problem> {
    let (_, asker) = acting(&app, &caller).await?;
    Ok(Json((&app.act_on_team(asker, TeamIntent::Rename(body.name)).await?).into()))
}

/// Takes a change of the team back, and what was handed over with it in trackers.
#[utoipa::path(post, path = "/api/team/undo/{seq}", params(("seq" = u64, Path)), responses((status = 200, body = TeamDone)))]
pub(super) async fn undo(State(app): State<App>, caller: Caller, Path(seq): Path<u64>) -> Result<Json<TeamDone>, Problem> {
    let (me, asker) = acting(&app, &caller).await?;
    let intent = app.team.undoing(seq).await?;
    let back = handing_back(&app, me, seq).await?;
    let done = app.act_on_team(asker, intent).await?;
    for (live, asker, intent) in back {
        live.act(asker, intent).await?;
    }
    app.store.take_tasks_back(seq).await?;
    Ok(Json((&done).into()))
}

/// A change in the team's log.
#[derive(Serialize, ToSchema)]
pub(super) struct LoggedChange {
    seq: u64,
    at: String,
    who: String,
    /// In words that stand after who did it.
    did: String,
}

/// The team's log, latest first. For those who let people in.
#[utoipa::path(get, path = "/api/team/log", responses((status = 200, body = Vec<LoggedChange>)))]
pub(super) async fn log(State(app): State<App>, caller: Caller) -> Result<Json<Vec<LoggedChange>>, Problem> {
    let me = seeing(&caller)?;
    if !matches!(app.team.asker(me).await?, TeamAsker::Person { lets_in: true, .. }) {
        return Err(Fault::not_found("page").into());
    }
    let team = app.team.now();
    let clock = app.team.clock_for(me);
    let changes = app.store.team_log(LISTED).await?;
    let line = |change: &westerfall_core::team::TeamChange| LoggedChange {
        seq: change.seq,
        at: moment_text(change.at, &clock),
        who: change.who_text(&team).to_owned(),
        did: change.did(),
    };
    Ok(Json(changes.iter().map(line).collect()))
}
