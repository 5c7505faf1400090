//! Texts that the team keeps: messages are written by them, and follow when one is changed.

use super::{Wording, wording_refs};
use crate::{
    access::{Asker, Lens},
    checks::check_name,
    dataset::Dataset,
    fault::{Checked, Fault, FaultKind, Faults},
    id::{TableId, TextId},
    names::{Hold, Name, Names, See},
    part::{Part, Sort, is_part},
    rules::{Rules, Tells, builders_only},
};
use serde::{Deserialize, Serialize};

/// A text by which messages about a table's records are written, changed in one place for all of them.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct StoredText {
    pub id: TextId,
    pub table: TableId,
    pub name: String,
    pub subject: Wording,
    #[serde(default)]
    pub body: Wording,
}

is_part!(StoredText, Text);

impl Sort for StoredText {
    const SORT: &'static str = "text";

    fn of(part: &Part) -> Option<&Self> {
        if let Part::Text(found) = part { Some(found) } else { None }
    }

    fn number(&self) -> u32 {
        self.id.get()
    }

    fn renumber(&mut self, number: u32) {
        self.id = TextId::new(number).unwrap_or(self.id);
    }

    fn title(&self) -> &str {
        &self.name
    }

    fn table(&self) -> Option<TableId> {
        Some(self.table)
    }

    fn name(&self) -> Option<Name> {
        Some(Name::Text(self.id))
    }
}

impl Names for StoredText {
    fn each(&mut self, see: &mut See<'_>) {
        for text in [&mut self.subject, &mut self.body] {
            wording_refs(text, Hold::Needs("says it"), see);
        }
    }
}

impl Rules for StoredText {
    fn may_shape(&self, lens: &Lens<'_>, _asker: Asker) -> Result<(), Fault> {
        builders_only(lens, "the texts of messages")
    }

    fn fits(&self, before: Option<&Self>, ds: &Dataset) -> Checked<()> {
        let mut faults: Vec<Fault> = check_name(&self.name).err().into_iter().collect();
        if before.is_some_and(|before| before.table != self.table) {
            let message = "A text stays with its table. Make a new one for another table.";
            faults.push(Fault::new(FaultKind::BadRule, message).at("/table"));
        }
        if self.subject.0.is_empty() {
            faults.push(Fault::new(FaultKind::Missing, "Give the text a heading.").at("/subject"));
        }
        if ds.stored_texts().any(|other| other.id != self.id && other.table == self.table && other.name == self.name) {
            faults.push(Fault::new(FaultKind::InUse, format!("There is a text “{}” already.", self.name)).at("/name"));
        }
        let of_one = self.subject.0.iter().any(|piece| piece.path().is_some());
        if let Some(gathers) = ds.automations().find(|one| of_one && one.gathers_by(self.id)) {
            let message = format!("“{}” writes one message of many records by it, so its heading holds no value of one.", gathers.name);
            faults.push(Fault::new(FaultKind::BadRule, message).at("/subject"));
        }
        Faults::none_or(faults)
    }

    fn tells(&self, _before: &Lens<'_>, after: &Lens<'_>) -> Tells {
        Tells::structure_if(after.builds())
    }
}

impl Dataset {
    /// The text of this number.
    pub fn stored_text(&self, id: TextId) -> Option<&StoredText> {
        self.part(id.get())
    }

    /// All texts that the team keeps, by their numbers.
    pub fn stored_texts(&self) -> impl Iterator<Item = &StoredText> {
        self.parts_of()
    }
}
