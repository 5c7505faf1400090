//! Designing intake forms.

use crate::{
    app::App,
    live::Done,
    problem::{Json, Path, Problem},
    session::{Signed, random_hex},
};
use axum::extract::State;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use westerfall_core::{
    fault::{Fault, FaultKind},
    form::{Form, FormView, Question},
    history::Part,
    id::{FormId, TableId, TrackerId},
    intent::Intent,
};

/// A form to keep. Its link stays as it was made.
#[derive(Deserialize, ToSchema)]
pub(super) struct FormBody {
    table: TableId,
    title: String,
    intro: String,
    questions: Vec<Question>,
    confirmation: String,
    send_label: String,
    open: bool,
    closed_text: String,
}

impl FormBody {
    fn form(self, id: FormId, link: String) -> Form {
        Form {
            id,
            table: self.table,
            title: self.title.trim().to_owned(),
            intro: self.intro,
            questions: self.questions,
            confirmation: self.confirmation,
            send_label: if self.send_label.trim().is_empty() { "Send".into() } else { self.send_label },
            open: self.open,
            closed_text: self.closed_text,
            link,
        }
    }
}

/// A form with its address and what its respondents see.
#[derive(Serialize, ToSchema)]
pub(super) struct FormAnswer {
    form: Form,
    address: String,
    view: FormView,
    /// Answers that came so far.
    answers: usize,
}

/// One form.
#[utoipa::path(get, path = "/api/trackers/{tracker}/forms/{form}", params(("tracker" = u32, Path), ("form" = u32, Path)), responses((status = 200, body = FormAnswer), (status = 404, body = crate::problem::ProblemBody)))]
pub(super) async fn show(
    State(app): State<App>,
    signed: Signed,
    Path((tracker, id)): Path<(TrackerId, FormId)>,
) -> Result<Json<FormAnswer>, Problem> {
    let look = app.tracker(tracker).await?.look(signed.asker())?;
    let lens = look.lens();
    let form = look.dataset.form(id).filter(|_| lens.builds()).ok_or_else(|| Fault::not_found("form"))?;
    // What is shown while it is closed is in the closed text; the design shows the questions all the same.
    let view = Form { open: true, ..form.clone() }.to_view(&look.dataset);
    let answers = look.dataset.table(form.table).map_or(0, |t| {
        let came = |r: &_| matches!(t.meta(*r).map(|m| m.created_by), Some(westerfall_core::history::Actor::Form(by)) if by == id);
        t.records().filter(came).count()
    });
    let address = format!("{}/f/{}", app.settings.public_url, form.link);
    Ok(Json(FormAnswer { form: form.clone(), address, view: FormView { open: form.open, ..view }, answers }))
}

/// Keeps a new form.
#[utoipa::path(post, path = "/api/trackers/{tracker}/forms", params(("tracker" = u32, Path)), request_body = FormBody, responses((status = 200, body = Done), (status = "4XX", body = crate::problem::ProblemBody)))]
pub(super) async fn make(
    State(app): State<App>,
    signed: Signed,
    Path(tracker): Path<TrackerId>,
    Json(body): Json<FormBody>,
) -> Result<Json<Done>, Problem> {
    let live = app.tracker(tracker).await?;
    live.look(signed.asker())?;
    // Core gives the number.
    let id = FormId::new(1).ok_or_else(|| Problem::internal("one is not zero"))?;
    Ok(Json(live.act(signed.actor()?, Intent::Make(Part::Form(body.form(id, random_hex(10))))).await?))
}

/// Keeps a form in another state.
#[utoipa::path(put, path = "/api/trackers/{tracker}/forms/{form}", params(("tracker" = u32, Path), ("form" = u32, Path)), request_body = FormBody, responses((status = 200, body = Done), (status = "4XX", body = crate::problem::ProblemBody)))]
pub(super) async fn save(
    State(app): State<App>,
    signed: Signed,
    Path((tracker, id)): Path<(TrackerId, FormId)>,
    Json(body): Json<FormBody>,
) -> Result<Json<Done>, Problem> {
    let live = app.tracker(tracker).await?;
    let look = live.look(signed.asker())?;
    let old = look.dataset.form(id).ok_or_else(|| Fault::not_found("form"))?;
    if old.table != body.table {
        return Err(Fault::new(FaultKind::BadRule, "A form stays with its table. Make a new one for another table.").at("/table").into());
    }
    let link = old.link.clone();
    Ok(Json(live.act(signed.actor()?, Intent::Save(Part::Form(body.form(id, link)))).await?))
}

/// Takes a form away. Records that came by it stay.
#[utoipa::path(delete, path = "/api/trackers/{tracker}/forms/{form}", params(("tracker" = u32, Path), ("form" = u32, Path)), responses((status = 200, body = Done), (status = "4XX", body = crate::problem::ProblemBody)))]
pub(super) async fn remove(
    State(app): State<App>,
    signed: Signed,
    Path((tracker, id)): Path<(TrackerId, FormId)>,
) -> Result<Json<Done>, Problem> {
    let live = app.tracker(tracker).await?;
    let look = live.look(signed.asker())?;
    let form = look.dataset.form(id).cloned().ok_or_else(|| Fault::not_found("form"))?;
    Ok(Json(live.act(signed.actor()?, Intent::Drop(Part::Form(form))).await?))
}
