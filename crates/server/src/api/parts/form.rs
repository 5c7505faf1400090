//! A form as it is sent and shown.

use super::{Sent, builders_only};
use crate::{app::App, live::Look, problem::Problem, secrets::random_hex};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use westerfall_core::{
    access::Lens,
    fault::{Checked, Fault, FaultKind},
    form::{Form, FormSentences, FormView, Responding, Script},
    id::{FormId, TableId},
    part::Part,
    value::moment_text,
    wording::Wording,
};

/// A form to keep. Its table stays; the confirmation is given as it is typed.
#[derive(Deserialize, ToSchema)]
pub(in crate::api) struct FormBody {
    form: Form,
    confirmation: String,
}

/// A new form: closed, asking what its table requires.
#[derive(Deserialize, ToSchema)]
pub(in crate::api) struct NewForm {
    table: TableId,
    title: String,
}

/// A form with its address and what its respondents see.
#[derive(Serialize, ToSchema)]
pub(in crate::api) struct FormDesign {
    form: Form,
    /// As one types it.
    confirmation: String,
    address: String,
    /// Every question, whatever holds.
    view: FormView,
    sentences: FormSentences,
    script: Script,
    came: Came,
}

/// Answers that came so far and are open to the asker, in words.
#[derive(Serialize, ToSchema)]
pub(in crate::api) struct Came {
    number: usize,
    /// *3 answers*.
    counted: String,
    /// *the last 3 Jan 2026, 09:44*; none before the first.
    last: Option<String>,
}

impl Came {
    pub(in crate::api) fn so_far(lens: &Lens<'_>, form: &Form) -> Self {
        let came = form.answers(lens);
        let last = came.last().and_then(|last| lens.meta(form.table, *last));
        Self {
            number: came.len(),
            counted: lens.clock().customs().count_words(came.len(), "answer", "answers"),
            last: last.map(|m| format!("the last {}", moment_text(m.created_at, lens.clock()))),
        }
    }
}

impl Sent for FormBody {
    fn ready(self, number: Option<u32>, look: &Look) -> Checked<Part> {
        let id = number.and_then(FormId::new).unwrap_or(FormId::FIRST);
        let table = self.form.table;
        builders_only(look, table, "form")?;
        if number.is_some() && look.dataset.form(id).is_some_and(|now| now.table != table) {
            let message = "A form stays with its table. Make a new one for another table.";
            return Err(Fault::new(FaultKind::BadRule, message).at("/table").into());
        }
        let confirmation = Wording::parse(&self.confirmation, &look.dataset, table).map_err(|fault| fault.at("/confirmation"))?;
        Ok(Form { id, confirmation, ..self.form }.into())
    }
}

impl Sent for NewForm {
    fn ready(self, number: Option<u32>, look: &Look) -> Checked<Part> {
        builders_only(look, self.table, "table")?;
        let id = number.and_then(FormId::new).unwrap_or(FormId::FIRST);
        Ok(Form::begun(&look.dataset, id, self.table, self.title.trim(), &random_hex(10))?.into())
    }
}

/// Whether a form's new address is free. Addresses are the installation's, so that no tracker knows of all.
pub(super) async fn may_move(app: &App, before: &Part, after: &Part) -> Result<(), Problem> {
    let (Part::Form(before), Part::Form(after)) = (before, after) else { return Ok(()) };
    if before.link != after.link && app.store.form_at(&after.link).await?.is_some() {
        return Err(Fault::new(FaultKind::InUse, "Another form has this address. Choose another one.").at("/link").into());
    }
    Ok(())
}

pub(in crate::api) fn address(app: &App, form: &Form) -> String {
    format!("{}/f/{}", app.settings.public_url, form.link)
}

pub(in crate::api) fn design(app: &App, look: &Look, form: &Form) -> FormDesign {
    let lens = look.lens();
    FormDesign {
        confirmation: form.confirmation.to_text(&look.dataset, form.table),
        address: address(app, form),
        view: Responding { form, ds: &look.dataset, clock: &look.clock, team: app.team.now().face() }.designed(),
        sentences: form.to_sentences(&lens),
        script: form.to_script(&lens),
        came: Came::so_far(&lens, form),
        form: form.clone(),
    }
}
