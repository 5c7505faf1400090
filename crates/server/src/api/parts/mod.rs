//! Parts of a tracker's structure as people send them: made, saved, dropped, or only looked at as they would stand. What a sort
//! of part adds to this is in a file of its own.

pub(super) mod automation;
pub(super) mod document;
pub(super) mod form;
pub(super) mod highlight;
pub(super) mod page;
pub(super) mod role;
pub(super) mod text;
mod view;

use super::places::OfTracker;
use crate::{
    here::Here,
    live::{Done, Look, rehearse},
    problem::{Json, Path, Problem},
};
use axum::extract::State;
use serde::{Deserialize, Serialize};
use utoipa::{IntoParams, ToSchema};
use westerfall_core::{
    fault::{Checked, Fault, Faults},
    id::TableId,
    intent::Intent,
    part::Part,
};

/// A part as it is sent, by its sort.
#[derive(Deserialize, ToSchema)]
#[serde(rename_all = "lowercase")]
pub(super) enum PartBody {
    View(view::ViewBody),
    Form(Box<form::FormBody>),
    Role(role::RoleBody),
    Automation(Box<automation::AutomationBody>),
    Page(Box<page::PageBody>),
    Highlight(highlight::HighlightBody),
    Document(Box<document::DocumentBody>),
    Text(text::TextBody),
}

/// A part to be made. Of a form, the table and a title are enough; of a page, a title and a view.
#[derive(Deserialize, ToSchema)]
#[serde(rename_all = "lowercase")]
pub(super) enum NewPart {
    View(view::ViewBody),
    Form(form::NewForm),
    Role(role::RoleBody),
    Automation(Box<automation::AutomationBody>),
    Page(page::NewPage),
    Highlight(highlight::HighlightBody),
    Document(document::NewDocument),
    Text(text::TextBody),
}

/// A part as it would stand, and what it would do, in words.
#[derive(Serialize, ToSchema)]
#[serde(rename_all = "lowercase")]
pub(super) enum PartView {
    View(view::ViewLook),
    Form(Box<form::FormDesign>),
    Role(role::RoleView),
    Automation(Box<automation::AutomationView>),
    Page(Box<page::PageDesign>),
    Highlight(Box<highlight::HighlightView>),
    Document(Box<document::DocumentView>),
    Text(text::TextView),
}

/// What each sort of part as it is sent can do.
trait Sent {
    /// The part that it describes; `number`: which it is, where it exists already.
    fn ready(self, number: Option<u32>, look: &Look) -> Checked<Part>;
}

/// Those alone who may change the structure, of a table that is open to them: to others there is no such thing, and names in
/// what they send are not looked up.
fn builders_only(look: &Look, table: TableId, thing: &str) -> Result<(), Fault> {
    let lens = look.lens();
    if lens.builds() && lens.opens(table) { Ok(()) } else { Err(Fault::not_found(thing)) }
}

impl Sent for PartBody {
    fn ready(self, number: Option<u32>, look: &Look) -> Checked<Part> {
        match self {
            PartBody::View(body) => body.ready(number, look),
            PartBody::Form(body) => body.ready(number, look),
            PartBody::Role(body) => body.ready(number, look),
            PartBody::Automation(body) => body.ready(number, look),
            PartBody::Page(body) => body.ready(number, look),
            PartBody::Highlight(body) => body.ready(number, look),
            PartBody::Document(body) => body.ready(number, look),
            PartBody::Text(body) => body.ready(number, look),
        }
    }
}

impl PartBody {
    /// The same with what is a secret as it is kept.
    async fn hashed(self, app: &crate::app::App) -> Result<Self, Problem> {
        match self {
            PartBody::Page(body) => Ok(PartBody::Page(Box::new(body.hashed(app).await?))),
            other => Ok(other),
        }
    }

    fn sort(&self) -> &'static str {
        match self {
            PartBody::View(_) => "view",
            PartBody::Form(_) => "form",
            PartBody::Role(_) => "role",
            PartBody::Automation(_) => "automation",
            PartBody::Page(_) => "page",
            PartBody::Highlight(_) => "highlight",
            PartBody::Document(_) => "document",
            PartBody::Text(_) => "text",
        }
    }
}

impl Sent for NewPart {
    fn ready(self, number: Option<u32>, look: &Look) -> Checked<Part> {
        match self {
            NewPart::View(body) => body.ready(number, look),
            NewPart::Form(body) => body.ready(number, look),
            NewPart::Role(body) => body.ready(number, look),
            NewPart::Automation(body) => body.ready(number, look),
            NewPart::Page(body) => body.ready(number, look),
            NewPart::Highlight(body) => body.ready(number, look),
            NewPart::Document(body) => body.ready(number, look),
            NewPart::Text(body) => body.ready(number, look),
        }
    }
}

/// A part in an address.
#[derive(Clone, Debug, Deserialize, IntoParams)]
#[into_params(parameter_in = Path)]
pub(super) struct OfPart {
    #[allow(dead_code, reason = "it stands in the address; `Here` reads it")]
    tracker: u32,
    /// `view`, `form`, `role`, `automation`, `page`, `highlight` or `document`.
    sort: String,
    number: u32,
}

impl OfPart {
    fn not_found(&self) -> Fault {
        const SORTS: [&str; 7] = ["view", "form", "role", "automation", "page", "highlight", "document"];
        Fault::not_found(SORTS.into_iter().find(|sort| *sort == self.sort).unwrap_or("page"))
    }

    /// The part that stands there now, if it is one that is sent.
    fn now(&self, look: &Look) -> Result<Part, Fault> {
        let part = look.dataset.part_at(&self.sort, self.number);
        let lens = look.lens();
        // Roles belong to no table: to whoever does not build, not even their numbers are known.
        let knows = |part: &Part| match part {
            Part::View(view) => lens.knows(view),
            // Who comes in from outside is for those who let people in.
            Part::Page(_) => lens.is_steward(),
            other => other.table().map_or(lens.builds(), |table| lens.is_within(table)),
        };
        part.filter(knows).ok_or_else(|| self.not_found())
    }
}

/// Makes a part.
#[utoipa::path(post, path = "/api/trackers/{tracker}/parts", params(OfTracker), request_body = NewPart, responses((status = 200, body = Done)))]
pub(super) async fn make(here: Here, Json(body): Json<NewPart>) -> Result<Json<Done>, Problem> {
    let part = body.ready(None, &here.look()?)?;
    here.act(Intent::Make(part)).await
}

/// Keeps a part in another state.
#[utoipa::path(put, path = "/api/trackers/{tracker}/parts/{sort}/{number}", params(OfPart), request_body = PartBody, responses((status = 200, body = Done)))]
pub(super) async fn save(here: Here, Path(at): Path<OfPart>, Json(body): Json<PartBody>) -> Result<Json<Done>, Problem> {
    let look = here.look()?;
    let before = at.now(&look)?;
    if body.sort() != at.sort {
        return Err(at.not_found().into());
    }
    let part = body.hashed(&here.app).await?.ready(Some(at.number), &look)?;
    form::may_move(&here.app, &before, &part).await?;
    page::may_move(&here.app, &before, &part).await?;
    here.act(Intent::Save(part)).await
}

/// Takes a part away. What came of it stays: records that came by a form, what an automation did.
#[utoipa::path(delete, path = "/api/trackers/{tracker}/parts/{sort}/{number}", params(OfPart), responses((status = 200, body = Done)))]
pub(super) async fn drop(here: Here, Path(at): Path<OfPart>) -> Result<Json<Done>, Problem> {
    let part = at.now(&here.look()?)?;
    here.act(Intent::Drop(part)).await
}

/// A part as it would stand.
#[derive(Deserialize, ToSchema)]
pub(super) struct LookBody {
    /// Which it is, where it exists already.
    #[serde(default)]
    number: Option<u32>,
    part: PartBody,
}

/// A part as it would stand: what it would do in words, and all that is wrong with it.
#[derive(Serialize, ToSchema)]
pub(super) struct PartLook {
    /// None where what was sent can't be read as a part at all.
    view: Option<PartView>,
    faults: Vec<Fault>,
}

/// Looks at a part as it would stand. Nothing is kept.
#[utoipa::path(post, path = "/api/trackers/{tracker}/parts/look", params(OfTracker), request_body = LookBody, responses((status = 200, body = PartLook)))]
pub(super) async fn look(State(app): State<crate::app::App>, here: Here, Json(body): Json<LookBody>) -> Result<Json<PartLook>, Problem> {
    let look = here.look()?;
    app.rooms.read(move || seen(&here, &look, body)).await?.map(Json)
}

fn seen(here: &Here, look: &Look, body: LookBody) -> Result<PartLook, Problem> {
    let LookBody { number, part } = body;
    if let Some(number) = number {
        OfPart { tracker: 0, sort: part.sort().to_owned(), number }.now(look)?;
    }
    // Who may not change it is told nothing of it.
    let unless_refused = |Faults(faults): Faults| match faults.iter().find(|fault| fault.is_refusal()) {
        Some(refused) => Err(Problem::from(refused.clone())),
        None => Ok(faults),
    };
    let part = match part.ready(number, look) {
        Ok(part) => part,
        Err(faults) => return Ok(PartLook { view: None, faults: unless_refused(faults)? }),
    };
    let intent = if number.is_some() { Intent::Save(part.clone()) } else { Intent::Make(part.clone()) };
    let faults = rehearse(look, &intent).err().map_or_else(|| Ok(Vec::new()), unless_refused)?;
    Ok(PartLook { view: shown(here, look, &part), faults })
}

fn shown(here: &Here, look: &Look, part: &Part) -> Option<PartView> {
    match part {
        Part::View(view) => Some(PartView::View(view::looked(look, view))),
        Part::Form(form) => Some(PartView::Form(Box::new(form::design(&here.app, look, form)))),
        Part::Role(role) => Some(PartView::Role(role::seen(look, role))),
        Part::Automation(automation) => Some(PartView::Automation(Box::new(automation::seen(look, automation)))),
        Part::Page(page) => Some(PartView::Page(Box::new(page::design(&here.app, look, page)))),
        Part::Highlight(one) => {
            let number = look.dataset.highlights_of(one.table).iter().filter(|other| other.place < one.place).count();
            Some(PartView::Highlight(Box::new(highlight::seen(look, one, u32::try_from(number).unwrap_or(u32::MAX).saturating_add(1)))))
        }
        Part::Document(one) => Some(PartView::Document(Box::new(document::seen(look, one)))),
        Part::Text(one) => Some(PartView::Text(text::seen(look, one))),
        Part::Tracker(_) | Part::Table(_) => None,
    }
}
