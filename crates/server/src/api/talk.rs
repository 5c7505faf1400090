//! Talk about records: what was said, saying it, and who is reached by it.

use super::{files, places::OfRecord, records::Search};
use crate::{
    here::Here,
    live::Done,
    pictures, pieces,
    problem::{Json, Path, Problem, Query},
};
use serde::{Deserialize, Serialize};
use std::collections::BTreeSet;
use utoipa::ToSchema;
use westerfall_core::{
    access::{Asker, Lens},
    fault::Fault,
    id::{CommentId, PersonId, RecordId, RoleId, TableId},
    inbox::{Elsewhere, News, Notice},
    intent::Intent,
    talk::{Addressee, CommentTold, TalkPart, TalkStep},
};
use westerfall_store::TalkAt;

/// What was said about a record, and what one has to do with it.
#[derive(Serialize, ToSchema)]
pub(super) struct TalkView {
    /// In the order in which it was said.
    comments: Vec<CommentTold>,
    /// The last that one has read.
    read: Option<CommentId>,
    /// Whether one wants to hear of what is said.
    follows: bool,
    /// Whether one is told what is said, and may say something.
    hears: bool,
    /// The roles to which alone it is told, beside stewards; none: to whoever sees the record.
    roles: Vec<RoleId>,
    /// The same in words; empty: one is not told what is said.
    says: String,
}

fn talk_at(here: &Here, table: TableId, record: RecordId) -> TalkAt {
    TalkAt { tracker: here.tracker, table, record }
}

/// Whoever is signed in, where they are told what is said of the record.
fn reader(here: &Here, table: TableId, record: RecordId) -> Result<PersonId, Problem> {
    let look = here.look()?;
    let (Asker::Person(me) | Asker::StandingIn { r#as: me, .. }) = look.asker else { return Err(Fault::not_found("record").into()) };
    look.lens().must_hear(table, record)?;
    Ok(me)
}

/// What was said about a record.
#[utoipa::path(get, path = "/api/trackers/{tracker}/tables/{table}/records/{record}/talk", params(OfRecord), responses((status = 200, body = TalkView)))]
pub(super) async fn talk(here: Here, Path(OfRecord { table, record, .. }): Path<OfRecord>) -> Result<Json<TalkView>, Problem> {
    let look = here.look()?;
    if look.lens().sees(table, record) && !look.lens().hears(table, record) {
        let nothing = TalkView { comments: Vec::new(), read: None, follows: false, hears: false, roles: Vec::new(), says: String::new() };
        return Ok(Json(nothing));
    }
    let me = reader(&here, table, record)?;
    let attention = here.app.store.attention(talk_at(&here, table, record), me).await?;
    let lens = look.lens();
    let roles = look.dataset.table(table).map(|home| home.def.talk_for.clone()).unwrap_or_default();
    Ok(Json(TalkView {
        comments: lens.talk(table, record),
        read: attention.read,
        follows: attention.follows,
        hears: true,
        roles,
        says: lens.talk_for_words(table),
    }))
}

/// Something to be said.
#[derive(Deserialize, ToSchema)]
pub(super) struct SayBody {
    said: Vec<TalkPart>,
    /// Files that it brings: under which they came.
    #[serde(default)]
    tokens: Vec<String>,
    /// The comment that it answers.
    #[serde(default)]
    answers: Option<CommentId>,
}

/// Says something about a record. Whom it names, or answers, and who follows the record are told by mail where they may see it.
#[utoipa::path(post, path = "/api/trackers/{tracker}/tables/{table}/records/{record}/talk", params(OfRecord), request_body = SayBody, responses((status = 200, body = Done)))]
pub(super) async fn say(
    here: Here,
    Path(OfRecord { table, record, .. }): Path<OfRecord>,
    Json(body): Json<SayBody>,
) -> Result<Json<Done>, Problem> {
    let me = reader(&here, table, record)?;
    let arrived = files::arrived(&here, &body.tokens, pictures::Keep::Seen).await?;
    let files = arrived.iter().map(|file| file.attachment.clone()).collect();
    let intent = Intent::Talk { table, record, step: TalkStep::Say { said: body.said, files, answers: body.answers } };
    let done = if arrived.is_empty() {
        here.act(intent).await?
    } else {
        let mut look = here.look()?;
        look.asker = here.caller.actor()?;
        let done = files::put(&here, &look, intent, &arrived).await?;
        pieces::done(&here.app, &arrived).await;
        Json(done)
    };
    if !done.0.again {
        tell_of_it(&here, talk_at(&here, table, record), me).await?;
    }
    Ok(done)
}

/// Mails the last thing that somebody said to those whom it elsewhere.
async fn tell_of_it(here: &Here, at: TalkAt, me: PersonId) -> Result<(), Problem> {
    let look = here.look()?;
    let Some(said) = look.lens().last_said(at.table, at.record, me) else { return Ok(()) };
    // Of those whom it names the change itself has told their inbox.
    let mut readers: BTreeSet<PersonId> = look.lens().addressed_by(at.table, at.record, &said);
    let follow = here.app.store.followers(at).await?;
    let sees = |person: &PersonId| Lens::new(&look.dataset, Asker::Person(*person), &look.clock).hears(at.table, at.record);
    for person in follow.into_iter().filter(|person| *person != me && sees(person)) {
        if readers.insert(person) {
            let notice = Notice { to: person, by: Some(me), about: Some((at.table, at.record)), of: News::Said(said.id) };
            here.app.store.tell(Some(at.tracker), &notice, said.at).await?;
        }
    }
    here.app.store.has_read(at, me, said.id).await?;
    for person in readers {
        if here.app.elsewhere(person, "said").await? != Elsewhere::AtOnce {
            continue;
        }
        // Told with the names that the reader may see.
        let lens = Lens::new(&look.dataset, Asker::Person(person), &look.clock);
        let Some(name) = lens.record_name(at.table, at.record) else { continue };
        here.app.mail_said(at, person, me, &said, &name.name, &lens.comment_line(&said)).await?;
    }
    Ok(())
}

/// A comment of a record.
#[derive(Clone, Copy, Debug, Deserialize, utoipa::IntoParams)]
#[into_params(parameter_in = Path)]
pub(super) struct OfComment {
    #[allow(dead_code, reason = "it stands in the address; `Here` reads it")]
    tracker: u32,
    #[param(value_type = u32)]
    table: TableId,
    #[param(value_type = u32)]
    record: RecordId,
    #[param(value_type = u32)]
    comment: CommentId,
}

/// What a comment says from now on.
#[derive(Deserialize, ToSchema)]
pub(super) struct ResayBody {
    said: Vec<TalkPart>,
    /// Which of its files stay, by their ids.
    #[serde(default)]
    files: Vec<String>,
}

/// Changes what one said. Nobody is told of it anew.
#[utoipa::path(put, path = "/api/trackers/{tracker}/tables/{table}/records/{record}/talk/{comment}", params(OfComment), request_body = ResayBody, responses((status = 200, body = Done)))]
pub(super) async fn change(
    here: Here,
    Path(OfComment { table, record, comment, .. }): Path<OfComment>,
    Json(body): Json<ResayBody>,
) -> Result<Json<Done>, Problem> {
    here.act(Intent::Talk { table, record, step: TalkStep::Change { comment, said: body.said, files: body.files } }).await
}

/// Takes back what one said; stewards take back what anybody said.
#[utoipa::path(delete, path = "/api/trackers/{tracker}/tables/{table}/records/{record}/talk/{comment}", params(OfComment), responses((status = 200, body = Done)))]
pub(super) async fn take_back(here: Here, Path(OfComment { table, record, comment, .. }): Path<OfComment>) -> Result<Json<Done>, Problem> {
    here.act(Intent::Talk { table, record, step: TalkStep::Remove { comment } }).await
}

/// People and groups to speak to, by the beginnings of their names, and whether they may see the record.
#[utoipa::path(get, path = "/api/trackers/{tracker}/tables/{table}/records/{record}/whom", params(OfRecord, Search), responses((status = 200, body = Vec<Addressee>)))]
pub(super) async fn whom(
    here: Here,
    Path(OfRecord { table, record, .. }): Path<OfRecord>,
    Query(search): Query<Search>,
) -> Result<Json<Vec<Addressee>>, Problem> {
    let look = here.look()?;
    reader(&here, table, record)?;
    Ok(Json(here.app.rooms.read(move || look.lens().whom(table, record, &search.search)).await?))
}

/// What one has to do with the talk of a record.
#[derive(Deserialize, ToSchema)]
pub(super) struct AttentionBody {
    /// The last that one has read.
    #[serde(default)]
    read: Option<CommentId>,
    /// Whether one wants to hear of what is said.
    #[serde(default)]
    follows: Option<bool>,
}

/// Notes how far one has read, or that one follows a record, or no more.
#[utoipa::path(put, path = "/api/trackers/{tracker}/tables/{table}/records/{record}/attention", params(OfRecord), request_body = AttentionBody, responses((status = 204)))]
pub(super) async fn attend(
    here: Here,
    Path(OfRecord { table, record, .. }): Path<OfRecord>,
    Json(body): Json<AttentionBody>,
) -> Result<axum::http::StatusCode, Problem> {
    let me = reader(&here, table, record)?;
    here.caller.actor()?;
    let at = talk_at(&here, table, record);
    if let Some(last) = body.read {
        here.app.store.has_read(at, me, last).await?;
    }
    if let Some(on) = body.follows {
        here.app.store.follow(at, me, on).await?;
    }
    Ok(axum::http::StatusCode::NO_CONTENT)
}
