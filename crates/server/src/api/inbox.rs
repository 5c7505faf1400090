//! Inbox: what others did that somebody is told of, grouped by record, and the messages that wait for their answer.

use super::rounds::looks;
use crate::{
    app::App,
    here::Caller,
    live::Look,
    problem::{Json, Path, Problem},
    replying,
};
use axum::{extract::State, http::StatusCode};
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;
use utoipa::ToSchema;
use westerfall_core::{
    automation::{ReplyGiven, ReplyView},
    fault::{Fault, FaultKind},
    id::{CommentId, PersonId, RecordId, TableId, TrackerId},
    inbox::{Elsewhere, NoticeTold, WISHES, bare_notice},
    sentence::Phrase,
    value::moment_text,
};
use westerfall_store::NoticeRow;

/// Somebody's inbox.
#[derive(Serialize, ToSchema)]
pub(super) struct InboxView {
    unread: usize,
    /// Messages that wait for their answer.
    asks: Vec<InboxAsk>,
    /// What they were told, by record, the latest first.
    groups: Vec<InboxGroup>,
    /// When which of it reaches one elsewhere, too.
    wishes: Vec<InboxWish>,
}

/// A message that waits for an answer.
#[derive(Serialize, ToSchema)]
pub(super) struct InboxAsk {
    number: i64,
    at_text: String,
    tracker: TrackerId,
    table: TableId,
    record: RecordId,
    page: ReplyView,
    /// Why one has it.
    why: String,
}

/// What is told of one record, or of none.
#[derive(Serialize, ToSchema)]
pub(super) struct InboxGroup {
    tracker: Option<TrackerId>,
    tracker_name: String,
    table: Option<TableId>,
    record: Option<RecordId>,
    name: String,
    notices: Vec<InboxNotice>,
}

/// One thing that is told.
#[derive(Serialize, ToSchema)]
pub(super) struct InboxNotice {
    number: i64,
    at_text: String,
    read: bool,
    says: Vec<Phrase>,
    quote: Option<String>,
    /// The comment that can be answered.
    comment: Option<CommentId>,
    /// Why one is told.
    why: String,
}

/// When something reaches one elsewhere, too: by mail, in the chat or as a text.
#[derive(Serialize, ToSchema)]
pub(super) struct InboxWish {
    word: &'static str,
    says: &'static str,
    elsewhere: Elsewhere,
    /// What can be chosen.
    ways: &'static [Elsewhere],
}

/// What others did that one is told of, as one may see it now.
#[utoipa::path(get, path = "/api/inbox", responses((status = 200, body = InboxView)))]
pub(super) async fn inbox(State(app): State<App>, caller: Caller) -> Result<Json<InboxView>, Problem> {
    let me = looks(&caller)?;
    let mut seen = Looks { app: &app, caller: &caller, known: BTreeMap::new() };
    let clock = app.team.clock_for(me);
    let mut groups: Vec<InboxGroup> = Vec::new();
    let (mut unread, mut unseen) = (0, Vec::new());
    for row in app.store.notices(me).await? {
        let Some((told, tracker_name)) = seen.told(&row).await? else {
            // What can't be told is not counted as waiting either.
            unseen.extend(Some(row.number).filter(|_| !row.read));
            continue;
        };
        unread += usize::from(!row.read);
        let (table, record) = row.notice.about.unzip();
        let tracker = row.tracker;
        let name = told.name.clone().unwrap_or_default();
        let notice = InboxNotice {
            number: row.number,
            at_text: moment_text(row.at, &clock),
            read: row.read,
            says: told.says,
            quote: told.quote,
            comment: told.comment,
            why: told.why,
        };
        let same = |group: &&mut InboxGroup| record.is_some() && (group.tracker, group.table, group.record) == (tracker, table, record);
        match groups.iter_mut().find(same) {
            Some(group) => group.notices.push(notice),
            None => groups.push(InboxGroup { tracker, tracker_name, table, record, name, notices: vec![notice] }),
        }
    }
    if !unseen.is_empty() && caller.actor().is_ok() {
        app.store.mark_read(me, Some(&unseen), Some(Timestamp::now())).await?;
    }
    let mut asks = Vec::new();
    for row in app.store.open_replies(me, Timestamp::now()).await? {
        let Ok(page) = replying::view(&app, &row).await else { continue };
        if page.closed.is_none() {
            let (table, record) = (row.asked.table, row.asked.record);
            asks.push(InboxAsk {
                number: row.number,
                at_text: moment_text(row.asked.at, &clock),
                tracker: row.tracker,
                table,
                record,
                page,
                why: row.why,
            });
        }
    }
    let said = app.store.inbox_wishes(me).await?;
    let wish = |(word, says, by_itself): &(&'static str, &'static str, Elsewhere)| InboxWish {
        word,
        says,
        elsewhere: said.get(*word).copied().unwrap_or(*by_itself),
        ways: Elsewhere::of(word),
    };
    Ok(Json(InboxView { unread, asks, groups, wishes: WISHES.iter().map(wish).collect() }))
}

/// The trackers that notices are of, each looked at once.
struct Looks<'a> {
    app: &'a App,
    caller: &'a Caller,
    known: BTreeMap<TrackerId, Option<Look>>,
}

impl Looks<'_> {
    /// A notice as it may be told, and the name of its tracker.
    async fn told(&mut self, row: &NoticeRow) -> Result<Option<(NoticeTold, String)>, Problem> {
        let Some(tracker) = row.tracker else {
            let who = row.notice.by.map_or_else(|| "Somebody".to_owned(), |by| self.app.team.people().name(by).to_owned());
            return Ok(bare_notice(&row.notice, &who).map(|told| (told, String::new())));
        };
        if !self.known.contains_key(&tracker) {
            let look = self.app.tracker(tracker).await?.look(self.caller.asker()).ok();
            self.known.insert(tracker, look);
        }
        let Some(Some(look)) = self.known.get(&tracker) else { return Ok(None) };
        Ok(look.lens().notice(&row.notice).map(|told| (told, look.dataset.tracker.name.clone())))
    }
}

/// How much waits to be read.
#[derive(Serialize, ToSchema)]
pub(super) struct Unread {
    unread: i64,
}

/// How much waits to be read, and to be answered.
#[utoipa::path(get, path = "/api/inbox/unread", responses((status = 200, body = Unread)))]
pub(super) async fn unread(State(app): State<App>, caller: Caller) -> Result<Json<Unread>, Problem> {
    Ok(Json(Unread { unread: app.store.unread(looks(&caller)?).await? }))
}

/// What was read.
#[derive(Deserialize, ToSchema)]
pub(super) struct ReadBody {
    /// None: all of it.
    notices: Option<Vec<i64>>,
    /// Or not read after all.
    read: bool,
}

/// Marks notices as read, or as not read.
#[utoipa::path(post, path = "/api/inbox/read", request_body = ReadBody, responses((status = 204)))]
pub(super) async fn read(State(app): State<App>, caller: Caller, Json(body): Json<ReadBody>) -> Result<StatusCode, Problem> {
    let me = caller.person()?;
    caller.actor()?;
    app.store.mark_read(me, body.notices.as_deref(), body.read.then(Timestamp::now)).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Answers a message from the inbox, as its link would.
#[utoipa::path(post, path = "/api/inbox/asks/{ask}", params(("ask" = i64, Path)), request_body = ReplyGiven, responses((status = 200, body = ReplyView)))]
pub(super) async fn answer(
    State(app): State<App>,
    caller: Caller,
    Path(ask): Path<i64>,
    Json(given): Json<ReplyGiven>,
) -> Result<Json<ReplyView>, Problem> {
    let me: PersonId = caller.person()?;
    caller.actor()?;
    let mine = |row: &westerfall_store::ReplyRow| row.asked.person == Some(me);
    let unknown = || Problem::from(Fault::not_found("message"));
    let row = app.store.reply(ask).await?.filter(mine).ok_or_else(unknown)?;
    replying::take(&app, &row, given).await?;
    let row = app.store.reply(ask).await?.ok_or_else(unknown)?;
    replying::view(&app, &row).await.map(Json)
}

/// When something reaches one elsewhere, too.
#[derive(Deserialize, ToSchema)]
pub(super) struct WishBody {
    word: String,
    elsewhere: Elsewhere,
}

/// Says when something of one's inbox reaches one elsewhere, too.
#[utoipa::path(put, path = "/api/inbox/wishes", request_body = WishBody, responses((status = 204)))]
pub(super) async fn wish(State(app): State<App>, caller: Caller, Json(body): Json<WishBody>) -> Result<StatusCode, Problem> {
    let me = caller.person()?;
    caller.actor()?;
    let known = WISHES.iter().find(|(word, ..)| *word == body.word).ok_or_else(|| Fault::not_found("wish").at("/word"))?;
    if !Elsewhere::of(known.0).contains(&body.elsewhere) {
        return Err(Fault::new(FaultKind::WrongKind, "This can’t be chosen here.").at("/elsewhere").into());
    }
    app.store.wish_inbox(me, known.0, body.elsewhere).await?;
    Ok(StatusCode::NO_CONTENT)
}
