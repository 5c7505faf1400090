//! Shared pages as people outside come to them. Whoever comes is a visitor, and reads and writes through a lens like everybody.

use super::{
    pictures::qr_code,
    sent::{SentFile, examined, unexamined},
    written::{ByField, Written},
};
use crate::{
    api::{
        KEEP_ALIVE,
        files::{Wanted, content},
        idempotency_key,
    },
    app::App,
    here::Perhaps,
    letters::{NOBODY, page_code_hash},
    live::{Done, Listener, Live, Look, Told, Wish, rehearse},
    pictures,
    problem::{Json, Path, Problem, Query},
    refusal::Refusal,
    secrets::{hash, random_hex},
    session::{From as Sender, cookie, cookie_of, password_fits},
};
use axum::{
    extract::State,
    http::{HeaderMap, StatusCode, header},
    response::{
        IntoResponse, Response,
        sse::{Event, KeepAlive, Sse},
    },
};
use futures::Stream;
use jiff::{SignedDuration, Timestamp};
use serde::{Deserialize, Serialize};
use std::{
    collections::BTreeMap,
    convert::Infallible,
    sync::{Arc, atomic::AtomicBool},
};
use tokio::sync::mpsc;
use tokio_stream::wrappers::ReceiverStream;
use utoipa::{IntoParams, ToSchema};
use westerfall_core::{
    access::{Asker, Base},
    dataset::RecordName,
    face::Face,
    fault::{Checked, Fault, Faults},
    id::{FieldId, GuestId, RecordId, TableId},
    intent::{Edit, Intent},
    page::{Door, Page, PageAsking, PageCrossAsking, PageCrossed, PageDays, PageDaysAsking, PageFront, PageNames, PageRows, Visitor},
    value::{Attachment, CellValue, Input, Value},
};
use westerfall_store::{NewPageSession, PageAt};

/// How long one stays let in.
const LASTS: SignedDuration = SignedDuration::from_secs(14 * 24 * 3_600);
/// Events that wait for a slow line.
const WAITING: usize = 4;

/// As whom a steward looks at a page who tries it: the number of somebody it names, or 0 for nobody in particular.
#[derive(Clone, Copy, Debug, Default, Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
#[serde(default)]
pub(in crate::api) struct Trying {
    #[param(value_type = Option<u32>)]
    r#as: Option<u32>,
    /// A page that stands open looks again: that is no visit.
    again: bool,
}

/// Somebody at a page: let in, or a steward who tries it.
struct Visiting {
    at: PageAt,
    look: Look,
    guest: Option<GuestId>,
    live: Arc<Live>,
    tries: bool,
}

/// What somebody has to say before they are let in.
#[derive(Serialize, ToSchema)]
pub(in crate::api) struct PageDoor {
    team: String,
    /// The team’s mark, by the number of its file.
    mark: Option<String>,
    /// The team’s colour: the page’s own is told behind the door.
    colour: Option<String>,
    asks: Asks,
}

impl PageDoor {
    fn of(team: Face<'_>, asks: Asks) -> Self {
        Self {
            team: team.name.to_owned(),
            mark: team.look.mark.as_ref().map(|mark| mark.id.clone()),
            colour: team.look.colour.clone(),
            asks,
        }
    }
}

#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "lowercase")]
#[schema(as = PageAsks)]
pub(in crate::api) enum Asks {
    Passcode,
    /// An address, and the code that is mailed to it.
    Code,
}

/// A page, or its door.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "lowercase")]
pub(in crate::api) enum PageView {
    Open(Box<PageFront>),
    Door(PageDoor),
}

fn unknown() -> Problem {
    Fault::not_found("page").into()
}

/// Where a page is, and the tracker that it is of.
async fn found(app: &App, link: &str) -> Result<(PageAt, Arc<Live>), Problem> {
    let at = app.store.page_at(link).await?.ok_or_else(unknown)?;
    Ok((at, app.tracker(at.tracker).await?))
}

/// The name of the cookie that lets somebody in to one page, so that they may be at several.
fn cookie_name(at: PageAt) -> String {
    format!("westerfall-page-{}-{}", at.tracker, at.page)
}

/// What of a door a session hangs on: once that is another, one is let in no more.
fn print_of(page: &Page, guest: Option<GuestId>) -> Option<Vec<u8>> {
    match (&page.door, guest) {
        (Door::Passcode(passcode), None) => Some(hash(passcode)),
        (Door::Named, Some(guest)) => Some(hash(&page.guest(guest)?.mail.to_lowercase())),
        _ => None,
    }
}

impl Visiting {
    /// Whoever asks, as the page lets them in; or what its door asks.
    async fn of(app: &App, link: &str, headers: &HeaderMap, who: &Perhaps, trying: Trying) -> Result<Result<Self, PageDoor>, Problem> {
        let (at, live) = found(app, link).await?;
        if let Some(number) = trying.r#as {
            return Self::trying(at, live, who, GuestId::new(number)).map(Ok);
        }
        let now = live.now();
        let page = now.page(at.page).ok_or_else(unknown)?;
        let guest = match &page.door {
            Door::Link => None,
            door => {
                let asks = if *door == Door::Named { Asks::Code } else { Asks::Passcode };
                match Self::let_in(app, at, page, headers).await? {
                    Some(guest) => guest,
                    // A page that is closed is no page, with a door or without.
                    None if page.is_open_on(now.turned()) => return Ok(Err(PageDoor::of(app.team.now().face(), asks))),
                    None => return Err(unknown()),
                }
            }
        };
        let look = live.look(Asker::Visitor { page: at.page, guest }).map_err(|_| unknown())?;
        if !look.dataset.page(at.page).is_some_and(|page| page.is_open_on(look.clock.today())) {
            return Err(unknown());
        }
        Ok(Ok(Self { at, look, guest, live, tries: false }))
    }

    /// Whom a cookie lets in.
    async fn let_in(app: &App, at: PageAt, page: &Page, headers: &HeaderMap) -> Result<Option<Option<GuestId>>, Problem> {
        let Some(token) = cookie_of(headers, &cookie_name(at)) else { return Ok(None) };
        let session = app.store.page_session(at, &hash(&token), Timestamp::now()).await?;
        Ok(session.filter(|session| print_of(page, session.guest).as_ref() == Some(&session.let_in_by)).map(|session| session.guest))
    }

    /// A steward of the tracker, who looks at the page as somebody would who comes to it, open or not.
    fn trying(at: PageAt, live: Arc<Live>, who: &Perhaps, guest: Option<GuestId>) -> Result<Self, Problem> {
        let now = live.now();
        let steward = who.person().is_some_and(|me| now.holds(me, &[Base::Steward]));
        if !steward {
            return Err(unknown());
        }
        let tried = now.with_page_open(at.page).ok_or_else(unknown)?;
        let asker = Asker::Visitor { page: at.page, guest };
        if !asker.may_look_at(&tried) {
            return Err(unknown());
        }
        let clock = crate::live::clock_for(&tried, asker, Timestamp::now());
        Ok(Self { at, look: Look { dataset: Arc::new(tried), clock, asker }, guest, live, tries: true })
    }

    /// The same for those who are let in alone.
    async fn inside(app: &App, link: &str, headers: &HeaderMap, who: &Perhaps, trying: Trying) -> Result<Self, Problem> {
        Self::of(app, link, headers, who, trying).await?.map_err(|_| Refusal::NotLetIn.into())
    }

    /// What a visitor is told, worked out where reading is.
    async fn told<T: Send + 'static>(
        self,
        app: &App,
        of: impl FnOnce(Visitor<'_>) -> Checked<T> + Send + 'static,
    ) -> Result<Json<T>, Problem> {
        let Self { at, look, guest, .. } = self;
        let told = app.rooms.read(move || match visitor(&look, at, guest, Face::named("")) {
            Some(visitor) => of(visitor).map_err(Problem::from),
            None => Err(unknown()),
        });
        told.await?.map(Json)
    }

    /// What they do is done as a visitor; whoever tries a page only looks.
    async fn act(self, intent: Intent, key: Option<String>) -> Result<Json<PageDone>, Problem> {
        let done = self.wish(intent, key).await?;
        Ok(self.kept(&done))
    }

    /// The same with files, of whose bytes nothing is kept where it is refused or was done before.
    async fn act_with(
        self,
        app: &App,
        files: Vec<SentFile<FieldId>>,
        key: Option<String>,
        intent: impl Fn(ByField) -> Intent,
    ) -> Result<Json<PageDone>, Problem> {
        if files.is_empty() {
            return self.act(intent(ByField::new()), key).await;
        }
        if self.tries {
            return Err(Refusal::OnlyTrying.into());
        }
        rehearse(&self.look, &intent(unexamined(&files)))?;
        let (named, uploads) = examined(app, &self.look.dataset, files).await?;
        pictures::keep(&app.files, &uploads).await?;
        let done = self.wish(intent(named), key).await;
        if done.as_ref().map_or(true, |done| done.again) {
            pictures::forget(&app.files, &uploads).await;
        }
        Ok(self.kept(&done?))
    }

    async fn wish(&self, intent: Intent, key: Option<String>) -> Result<Done, Problem> {
        if self.tries {
            return Err(Refusal::OnlyTrying.into());
        }
        let key = key.map(|key| format!("page {} {} {key}", self.at.page, self.guest.map_or(0, |guest| guest.get())));
        self.live.wish(Wish { key, ..Wish::now(intent, self.look.asker) }).await
    }

    fn kept(&self, done: &Done) -> Json<PageDone> {
        let kept = Timestamp::now().to_zoned(self.look.clock.told.clone()).strftime("%H:%M").to_string();
        Json(PageDone { kept, added: done.added.first().copied() })
    }

    /// The table of one part of the page.
    fn table(&self, part: u32) -> Result<TableId, Problem> {
        let page = self.look.dataset.page(self.at.page);
        page.and_then(|page| page.block(part)).map(|records| records.table).ok_or_else(|| Fault::not_found("part").into())
    }
}

/// What came of something that was done.
#[derive(Serialize, ToSchema)]
pub(in crate::api) struct PageDone {
    /// When it was kept: *09:31*.
    kept: String,
    /// The record that was added.
    added: Option<RecordId>,
}

fn visitor<'a>(look: &'a Look, at: PageAt, guest: Option<GuestId>, team: Face<'a>) -> Option<Visitor<'a>> {
    Some(Visitor { ds: &look.dataset, page: look.dataset.page(at.page)?, guest, clock: &look.clock, team })
}

/// A shared page as it stands for whoever comes, or what its door asks.
#[utoipa::path(get, path = "/api/public/pages/{link}", params(("link" = String, Path), Trying), responses((status = 200, body = PageView)))]
pub(in crate::api) async fn page(
    State(app): State<App>,
    who: Perhaps,
    Path(link): Path<String>,
    Query(trying): Query<Trying>,
    headers: HeaderMap,
) -> Result<Json<PageView>, Problem> {
    let visiting = match Visiting::of(&app, &link, &headers, &who, trying).await? {
        Ok(visiting) => visiting,
        Err(door) => return Ok(Json(PageView::Door(door))),
    };
    if !visiting.tries && !trying.again {
        app.store.note_page_visit(visiting.at, visiting.guest, Timestamp::now()).await?;
    }
    let team = app.team.now();
    let Visiting { at, look, guest, .. } = visiting;
    let front = app.rooms.read(move || visitor(&look, at, guest, team.face()).map(|visitor| visitor.front())).await?;
    Ok(Json(PageView::Open(Box::new(front.ok_or_else(unknown)?))))
}

/// The records that a part of the page shows, as one wants them for oneself.
#[utoipa::path(post, path = "/api/public/pages/{link}/parts/{part}/rows", params(("link" = String, Path), ("part" = u32, Path), Trying), request_body = PageAsking, responses((status = 200, body = PageRows)))]
pub(in crate::api) async fn rows(
    State(app): State<App>,
    who: Perhaps,
    Path((link, part)): Path<(String, u32)>,
    Query(trying): Query<Trying>,
    headers: HeaderMap,
    Json(asking): Json<PageAsking>,
) -> Result<Json<PageRows>, Problem> {
    let visiting = Visiting::inside(&app, &link, &headers, &who, trying).await?;
    visiting.told(&app, move |visitor| visitor.rows(part, &asking)).await
}

/// What stands on some days of a part that is a calendar.
#[utoipa::path(post, path = "/api/public/pages/{link}/parts/{part}/days", params(("link" = String, Path), ("part" = u32, Path), Trying), request_body = PageDaysAsking, responses((status = 200, body = PageDays)))]
pub(in crate::api) async fn days(
    State(app): State<App>,
    who: Perhaps,
    Path((link, part)): Path<(String, u32)>,
    Query(trying): Query<Trying>,
    headers: HeaderMap,
    Json(asking): Json<PageDaysAsking>,
) -> Result<Json<PageDays>, Problem> {
    let visiting = Visiting::inside(&app, &link, &headers, &who, trying).await?;
    visiting.told(&app, move |visitor| visitor.days(part, &asking)).await
}

/// The figures of a part that is a cross-tab.
#[utoipa::path(post, path = "/api/public/pages/{link}/parts/{part}/crossed", params(("link" = String, Path), ("part" = u32, Path), Trying), request_body = PageCrossAsking, responses((status = 200, body = PageCrossed)))]
pub(in crate::api) async fn crossed(
    State(app): State<App>,
    who: Perhaps,
    Path((link, part)): Path<(String, u32)>,
    Query(trying): Query<Trying>,
    headers: HeaderMap,
    Json(asking): Json<PageCrossAsking>,
) -> Result<Json<PageCrossed>, Problem> {
    let visiting = Visiting::inside(&app, &link, &headers, &who, trying).await?;
    visiting.told(&app, move |visitor| visitor.crossed(part, &asking)).await
}

/// A cell that a visitor fills in.
#[derive(Deserialize, ToSchema)]
pub(in crate::api) struct PageEdit {
    field: FieldId,
    input: Input,
    /// What stood there when they looked.
    #[serde(default)]
    was: Option<CellValue>,
}

/// What a visitor fills in of a record, in one step.
#[derive(Deserialize, ToSchema)]
pub(in crate::api) struct PageEdits {
    edits: Vec<PageEdit>,
}

/// Names of records that may be chosen for a link that visitors fill in: their names and nothing else.
#[utoipa::path(post, path = "/api/public/pages/{link}/parts/{part}/names", params(("link" = String, Path), ("part" = u32, Path), Trying), request_body = PageNames, responses((status = 200, body = Vec<RecordName>)))]
pub(in crate::api) async fn names(
    State(app): State<App>,
    who: Perhaps,
    Path((link, part)): Path<(String, u32)>,
    Query(trying): Query<Trying>,
    headers: HeaderMap,
    Json(asking): Json<PageNames>,
) -> Result<Json<Vec<RecordName>>, Problem> {
    let visiting = Visiting::inside(&app, &link, &headers, &who, trying).await?;
    visiting.told(&app, move |visitor| visitor.offered(part, &asking).map_err(Faults::from)).await
}

/// Fills in cells of a record; with files as a multipart form, whose part `body` is this JSON, each file as `file-` and its field.
#[utoipa::path(post, path = "/api/public/pages/{link}/parts/{part}/records/{record}", params(("link" = String, Path), ("part" = u32, Path), ("record" = u32, Path), Trying), request_body = PageEdits, responses((status = 200, body = PageDone)))]
pub(in crate::api) async fn edit(
    State(app): State<App>,
    who: Perhaps,
    Path((link, part, record)): Path<(String, u32, RecordId)>,
    Query(trying): Query<Trying>,
    headers: HeaderMap,
    Written { body, files }: Written<PageEdits>,
) -> Result<Json<PageDone>, Problem> {
    let visiting = Visiting::inside(&app, &link, &headers, &who, trying).await?;
    let table = visiting.table(part)?;
    let held = visiting.look.clone();
    let intent = |new: ByField| {
        let mut edits: Vec<Edit> = body
            .edits
            .iter()
            .map(|PageEdit { field, input, was }| Edit { field: *field, input: input.clone(), was: was.clone() })
            .collect();
        for (field, new) in new {
            let known = edits.iter_mut().find(|edit| edit.field == field);
            match known {
                Some(edit) => edit.input = Input::Files(staying(&held, (table, record, field), &edit.input).chain(new).collect()),
                None => edits.push(Edit { field, input: Input::Upload(new), was: None }),
            }
        }
        Intent::Edit { table, record, edits }
    };
    visiting.act_with(&app, files, None, intent).await
}

/// Of the files that somebody says shall stay, those that the cell holds.
fn staying(look: &Look, (table, record, field): (TableId, RecordId, FieldId), input: &Input) -> impl Iterator<Item = Attachment> {
    let said = if let Input::Value(Value::Files(files)) = input { files.to_vec() } else { Vec::new() };
    let lens = look.lens();
    let staying: Vec<Attachment> = said.into_iter().filter(|file| lens.holds_file(table, record, field, &file.id)).collect();
    staying.into_iter()
}

/// Puts a record into the bin.
#[utoipa::path(delete, path = "/api/public/pages/{link}/parts/{part}/records/{record}", params(("link" = String, Path), ("part" = u32, Path), ("record" = u32, Path), Trying), responses((status = 200, body = PageDone)))]
pub(in crate::api) async fn remove(
    State(app): State<App>,
    who: Perhaps,
    Path((link, part, record)): Path<(String, u32, RecordId)>,
    Query(trying): Query<Trying>,
    headers: HeaderMap,
) -> Result<Json<PageDone>, Problem> {
    let visiting = Visiting::inside(&app, &link, &headers, &who, trying).await?;
    let intent = Intent::Remove { table: visiting.table(part)?, records: vec![record] };
    visiting.act(intent, None).await
}

/// Adds a record. With an `Idempotency-Key`, adding twice makes one. With files as a multipart form, whose part `body` is this JSON, each file as `file-` and its field.
#[utoipa::path(post, path = "/api/public/pages/{link}/parts/{part}/records", params(("link" = String, Path), ("part" = u32, Path), Trying), request_body = BTreeMap<FieldId, Input>, responses((status = 200, body = PageDone)))]
pub(in crate::api) async fn add(
    State(app): State<App>,
    who: Perhaps,
    Path((link, part)): Path<(String, u32)>,
    Query(trying): Query<Trying>,
    headers: HeaderMap,
    Written { body: cells, files }: Written<BTreeMap<FieldId, Input>>,
) -> Result<Json<PageDone>, Problem> {
    let visiting = Visiting::inside(&app, &link, &headers, &who, trying).await?;
    let key = idempotency_key(&headers)?;
    let table = visiting.table(part)?;
    let intent = |new: ByField| {
        let cells = cells.clone().into_iter().chain(new.into_iter().map(|(field, files)| (field, Input::Upload(files))));
        Intent::Add { table, records: vec![cells.collect::<BTreeMap<_, _>>().into_iter().collect()] }
    };
    visiting.act_with(&app, files, key, intent).await
}

/// An address to which a code shall be mailed.
#[derive(Deserialize, ToSchema)]
pub(in crate::api) struct PageCodeBody {
    mail: String,
}

/// Mails a code, if the page names this address. Says nothing of whether it does.
#[utoipa::path(post, path = "/api/public/pages/{link}/code", params(("link" = String, Path)), request_body = PageCodeBody, responses((status = 204)))]
pub(in crate::api) async fn code(
    State(app): State<App>,
    Sender(client): Sender,
    Path(link): Path<String>,
    Json(body): Json<PageCodeBody>,
) -> Result<StatusCode, Problem> {
    let (at, live) = found(&app, &link).await?;
    app.letters.may_try(&body.mail, client)?;
    westerfall_core::checks::check_mail(body.mail.trim()).map_err(|fault| fault.at("/mail"))?;
    let now = live.now();
    let page = now.page(at.page).filter(|page| page.door == Door::Named && page.is_open_on(now.turned())).ok_or_else(unknown)?;
    if let Some(guest) = page.guest_at(&body.mail) {
        let (title, guest) = (page.title.clone(), guest.clone());
        // Beside the answer, which takes as long whether there is something to do or not.
        tokio::spawn(async move {
            if let Err(problem) = app.mail_page_code(at, &title, &guest).await {
                tracing::warn!(told = problem.told(), "a code could not be queued");
            }
        });
    }
    Ok(StatusCode::NO_CONTENT)
}

/// What lets somebody in: the passcode, or the code that was mailed to their address.
#[derive(Deserialize, ToSchema)]
#[serde(rename_all = "lowercase")]
#[schema(as = PageKey)]
pub(in crate::api) enum Key {
    Passcode(String),
    Code { mail: String, code: String },
}

/// Lets somebody in.
#[utoipa::path(post, path = "/api/public/pages/{link}/enter", params(("link" = String, Path)), request_body = Key, responses((status = 204)))]
pub(in crate::api) async fn enter(
    State(app): State<App>,
    Sender(client): Sender,
    Path(link): Path<String>,
    Json(key): Json<Key>,
) -> Result<Response, Problem> {
    let (at, live) = found(&app, &link).await?;
    let dataset = live.now();
    let page = dataset.page(at.page).filter(|page| page.is_open_on(dataset.turned())).ok_or_else(unknown)?;
    let guest = match (key, &page.door) {
        (Key::Passcode(given), Door::Passcode(kept)) => {
            app.sign_ins.may_try(&format!("page {link}"), client)?;
            if !password_fits(&app.rooms, &given, Some(kept.clone())).await? {
                return Err(Refusal::WrongPasscode.into());
            }
            None
        }
        (Key::Code { mail, code }, Door::Named) => {
            app.sign_ins.may_try(&mail, client)?;
            let wrong = || Problem::from(Refusal::WrongCode);
            let guest = page.guest_at(&mail).map(|guest| guest.id);
            let given = guest.map_or_else(|| hash(NOBODY), |guest| page_code_hash(at, guest, &code));
            if !app.store.use_page_code(at, guest, &given, Timestamp::now()).await? {
                return Err(wrong());
            }
            guest
        }
        _ => return Err(unknown()),
    };
    let (token, now) = (random_hex(32), Timestamp::now());
    let let_in_by = print_of(page, guest).ok_or_else(unknown)?;
    let session = NewPageSession { token_hash: &hash(&token), guest, let_in_by: &let_in_by, expires: now + LASTS };
    app.store.open_page_session(at, &session, now).await?;
    let cookie = cookie(&app, &cookie_name(at), token, "/api/public/pages", LASTS.as_secs())?;
    Ok((StatusCode::NO_CONTENT, [(header::SET_COOKIE, cookie)]).into_response())
}

/// Leaves a page: whoever comes next has to say who they are.
#[utoipa::path(post, path = "/api/public/pages/{link}/leave", params(("link" = String, Path)), responses((status = 204)))]
pub(in crate::api) async fn leave(State(app): State<App>, Path(link): Path<String>, headers: HeaderMap) -> Result<Response, Problem> {
    let (at, _) = found(&app, &link).await?;
    if let Some(token) = cookie_of(&headers, &cookie_name(at)) {
        app.store.close_page_session(&hash(&token)).await?;
    }
    let cookie = cookie(&app, &cookie_name(at), String::new(), "/api/public/pages", 0)?;
    Ok((StatusCode::NO_CONTENT, [(header::SET_COOKIE, cookie)]).into_response())
}

/// A file that stands in a cell which the page shows.
#[utoipa::path(get, path = "/api/public/pages/{link}/files/{file}", params(("link" = String, Path), ("file" = String, Path), Trying), responses((status = 200, body = Vec<u8>, content_type = "*/*")))]
pub(in crate::api) async fn file(
    State(app): State<App>,
    who: Perhaps,
    Path((link, file)): Path<(String, String)>,
    Query(trying): Query<Trying>,
    headers: HeaderMap,
) -> Result<Response, Problem> {
    let visiting = Visiting::inside(&app, &link, &headers, &who, trying).await?;
    content(&app, &file, Wanted { small: true, ..Wanted::default() }, |tracker| (tracker == visiting.at.tracker).then_some(visiting.look))
        .await
}

/// The page’s address as a QR code, for whoever hands it out.
#[utoipa::path(get, path = "/api/public/pages/{link}/qr/{file}", params(("link" = String, Path), ("file" = String, Path)), responses((status = 200, body = Vec<u8>, content_type = "image/svg+xml")))]
pub(in crate::api) async fn qr(State(app): State<App>, Path((link, file)): Path<(String, String)>) -> Result<Response, Problem> {
    found(&app, &link).await?;
    qr_code(&format!("{}/p/{link}", app.settings.public_url), &file)
}

/// Tells a page when to look again. Events: `look`, and `closed` where one is let in no more.
#[utoipa::path(get, path = "/api/public/pages/{link}/events", params(("link" = String, Path)), responses((status = 200, body = String, content_type = "text/event-stream")))]
pub(in crate::api) async fn events(
    State(app): State<App>,
    who: Perhaps,
    Path(link): Path<String>,
    headers: HeaderMap,
) -> Result<Sse<impl Stream<Item = Result<Event, Infallible>>>, Problem> {
    let visiting = Visiting::inside(&app, &link, &headers, &who, Trying::default()).await?;
    let (line, mut told) = mpsc::channel(WAITING);
    let (sender, receiver) = mpsc::channel(WAITING);
    visiting.live.listen(Listener {
        asker: visiting.look.asker,
        from: visiting.look.dataset.seq,
        line,
        missed: Arc::new(AtomicBool::new(false)),
    });
    tokio::spawn(async move {
        loop {
            let (name, last) = tokio::select! {
                () = sender.closed() => return,
                told = told.recv() => match told {
                    None => return,
                    Some(Told::Closed) => ("closed", true),
                    Some(Told::Anew | Told::Heard(_)) => ("look", false),
                },
            };
            if sender.send(Ok(Event::default().event(name).data("{}"))).await.is_err() || last {
                return;
            }
        }
    });
    Ok(Sse::new(ReceiverStream::new(receiver)).keep_alive(KeepAlive::new().interval(KEEP_ALIVE)))
}
