//! What is called by the words beside records: tables, views, fields, forms, automations, pages; and what one can do with them.

use super::{
    line::{FoundPiece, spans},
    term::Term,
};
use crate::{
    access::Lens,
    dataset::Table,
    id::{AutomationId, DocumentId, FieldId, FormId, OptionId, PageId, TableId, ViewId},
    schema::{Kind, within_sentence},
    sentence::a_or_an,
    value::{fold, list_text},
    view::View,
};
use serde::{Deserialize, Serialize};

/// Most that are told of one sort.
const MOST: usize = 8;

/// Something that is called so.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct PlaceFound {
    /// Under which heading it stands: *Views*, *To do*.
    pub sort: String,
    pub name: String,
    /// What it belongs to, or is for.
    pub beside: String,
    /// Where it says each word, in their order.
    pub says: Vec<FoundPiece>,
    pub leads: Leads,
}

/// Where a place leads.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(tag = "to", rename_all = "lowercase")]
pub enum Leads {
    Table {
        table: TableId,
    },
    View {
        table: TableId,
        view: ViewId,
    },
    /// Where fields are made.
    Field {
        table: TableId,
        field: FieldId,
    },
    Form {
        form: FormId,
    },
    Page {
        page: PageId,
    },
    Automation {
        automation: AutomationId,
    },
    Document {
        document: DocumentId,
    },
    /// A new record, with what the words fill in.
    Add {
        table: TableId,
        cells: Vec<AddedWith>,
    },
}

/// An option that a new record begins with.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct AddedWith {
    pub field: FieldId,
    pub option: OptionId,
}

/// What is said of a place, each with what it is.
type Said = Vec<(&'static str, String)>;

impl Lens<'_> {
    pub(super) fn places_called(&self, terms: &[Term]) -> Vec<PlaceFound> {
        let mut places = Vec::new();
        let mut add = |sort: &str, name: &str, beside: String, said: Said, leads: Leads| {
            let few = places.iter().filter(|place: &&PlaceFound| place.sort == sort).count() < MOST;
            let said = std::iter::once(("name", name.to_owned())).chain(said);
            if let Some(says) = Some(said.collect::<Vec<_>>()).filter(|_| few).and_then(|said| all_said(&said, terms)) {
                places.push(PlaceFound { sort: sort.to_owned(), name: name.to_owned(), beside, says, leads });
            }
        };
        let open: Vec<&Table> = self.ds.tables().filter(|home| self.opens(home.def.id)).collect();
        for home in &open {
            let count = self.clock().customs().count_text(self.count(home.def.id));
            add("Tables", &home.def.name, count, Vec::new(), Leads::Table { table: home.def.id });
        }
        for view in open.iter().flat_map(|home| self.ds.views_of(home.def.id)).filter(|view| self.knows(view)) {
            let table = view.table;
            let name = self.ds.table(table).map(|home| home.def.name.clone()).unwrap_or_default();
            let said = vec![("what it is for", view.about.clone()), ("where", self.condition_words(view)), ("table", name.clone())];
            add("Views", &view.name, name, said, Leads::View { table, view: view.id });
        }
        if self.builds() {
            for (home, def) in open.iter().flat_map(|home| home.def.fields.iter().map(move |def| (home, def))) {
                let leads = Leads::Field { table: home.def.id, field: def.id };
                let table = ("table", home.def.name.clone());
                add("Fields", &def.name, format!("of {}", home.def.many()), vec![("help", def.help.clone()), table], leads);
            }
            for form in self.ds.forms() {
                let beside = format!("a form, {}", if form.open { "open" } else { "closed" });
                add("Forms", &form.title, beside, vec![("address", form.link.clone())], Leads::Form { form: form.id });
            }
            for automation in self.ds.automations() {
                let beside = if automation.on { "on" } else { "off" }.to_owned();
                add("Automations", &automation.name, beside, Vec::new(), Leads::Automation { automation: automation.id });
            }
            for document in self.ds.documents().filter(|document| self.opens(document.table)) {
                let beside = self.ds.table(document.table).map(|home| format!("a document of {}", home.def.many())).unwrap_or_default();
                add("Documents", &document.title, beside, Vec::new(), Leads::Document { document: document.id });
            }
        }
        if self.is_steward() {
            for page in self.ds.pages() {
                add("Shared pages", &page.title, String::new(), Vec::new(), Leads::Page { page: page.id });
            }
        }
        places.extend(open.iter().filter_map(|home| self.adding_with(home, terms)).take(MOST));
        places
    }

    fn condition_words(&self, view: &View) -> String {
        view.query.condition.as_open_to(self, view.table).to_sentence(self, view.table)
    }

    /// *Add a fault: kind stile or gate*, where the words say what is added and options of it, and nothing else.
    fn adding_with(&self, home: &Table, terms: &[Term]) -> Option<PlaceFound> {
        let table = home.def.id;
        if !self.adds(table) {
            return None;
        }
        let called = fold(&format!("add new {} {}", home.def.one, home.def.name)).into_owned();
        let choices = || home.def.fields.iter().filter(|def| matches!(def.kind, Kind::Choice { .. }) && self.adds_with(table, def.id));
        let (mut cells, mut words, mut names_it): (Vec<AddedWith>, Vec<String>, bool) = (Vec::new(), Vec::new(), false);
        for term in terms {
            // One letter or two begin too many words.
            if term.word.len() > 2 && called.split_whitespace().any(|word| word.starts_with(&term.word)) {
                names_it = names_it || !"add new".contains(&term.word);
                continue;
            }
            let fits = |name: &str| fold(name).split_whitespace().any(|word| word.starts_with(&term.word));
            let mut options = choices().filter(|def| cells.iter().all(|cell| cell.field != def.id)).filter_map(|def| {
                let mut fitting = def.kind.options().iter().filter(|option| fits(&option.name));
                // Two that fit are a question, and nobody is asked one here.
                fitting.next().filter(|_| fitting.next().is_none()).map(|option| (def, option))
            });
            let (def, option) = options.next().filter(|_| term.word.len() > 2)?;
            cells.push(AddedWith { field: def.id, option: option.id });
            words.push(format!("{} {}", within_sentence(&def.name), option.name));
        }
        if !names_it && cells.is_empty() {
            return None;
        }
        let name = format!("Add {}", a_or_an(&home.def.one));
        let beside = if words.is_empty() { String::new() } else { format!("with {}", list_text(&words, "and")) };
        Some(PlaceFound { sort: "To do with it".to_owned(), name, beside, says: Vec::new(), leads: Leads::Add { table, cells } })
    }
}

/// Where each word stands, if each stands somewhere.
fn all_said(said: &[(&'static str, String)], terms: &[Term]) -> Option<Vec<FoundPiece>> {
    let piece = |term: &Term| {
        let (of, text) = said.iter().find(|(_, text)| fold(text).contains(&term.word))?;
        Some(FoundPiece { of: (*of).to_owned(), text: spans(text, &term.word) })
    };
    let says: Vec<FoundPiece> = terms.iter().map(piece).collect::<Option<_>>()?;
    // What a table is called says nothing of one thing in it alone.
    says.iter().any(|piece| piece.of != "table").then_some(says)
}
