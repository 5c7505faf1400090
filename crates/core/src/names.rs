//! References, once. What a part names, and how it holds it, is said by each part in one walk; what uses a field, removing,
//! merging options, packing and renaming people follow from it.

use crate::id::{AutomationId, DocumentId, FieldId, FormId, HighlightId, OptionId, PersonId, RecordId, RoleId, TableId, TextId};

/// Something that a part names.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub enum Name {
    Table(TableId),
    Field(FieldId),
    Option(OptionId),
    /// A record of the table to which a link leads.
    Record {
        by: FieldId,
        record: RecordId,
    },
    Person(PersonId),
    Form(FormId),
    Automation(AutomationId),
    Highlight(HighlightId),
    Role(RoleId),
    Document(DocumentId),
    Text(TextId),
}

/// How a part holds what it names, in words that stand after its own name.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Hold {
    /// It can't do without.
    Needs(&'static str),
    /// Taken away, it is left out here.
    Shows(&'static str),
}

/// Gives what stands for a name from here on; nothing: it is taken out.
pub type See<'s> = dyn FnMut(Name, Hold) -> Option<Name> + 's;

/// What names parts, records or people.
pub trait Names: Clone {
    /// Shows every name in it, and puts in its place what is given for it.
    fn each(&mut self, see: &mut See<'_>);

    /// Shows every name in it.
    fn names(&self, see: &mut dyn FnMut(Name, Hold)) {
        self.clone().each(&mut |name, hold| {
            see(name, hold);
            Some(name)
        });
    }

    /// The same without some names.
    #[must_use]
    fn without(&self, gone: &dyn Fn(Name) -> bool) -> Self {
        let mut rest = self.clone();
        rest.each(&mut |name, _| Some(name).filter(|name| !gone(*name)));
        rest
    }
}

/// One name in its place; whether it still stands.
pub(crate) fn field(id: &mut FieldId, hold: Hold, see: &mut See<'_>) -> bool {
    match see(Name::Field(*id), hold) {
        Some(Name::Field(other)) => {
            *id = other;
            true
        }
        _ => false,
    }
}

pub(crate) fn option(id: &mut OptionId, hold: Hold, see: &mut See<'_>) -> bool {
    match see(Name::Option(*id), hold) {
        Some(Name::Option(other)) => {
            *id = other;
            true
        }
        _ => false,
    }
}

pub(crate) fn person(id: &mut PersonId, hold: Hold, see: &mut See<'_>) -> bool {
    match see(Name::Person(*id), hold) {
        Some(Name::Person(other)) => {
            *id = other;
            true
        }
        _ => false,
    }
}

pub(crate) fn record(by: FieldId, id: &mut RecordId, hold: Hold, see: &mut See<'_>) -> bool {
    match see(Name::Record { by, record: *id }, hold) {
        Some(Name::Record { record, .. }) => {
            *id = record;
            true
        }
        _ => false,
    }
}

/// One that may be there.
pub(crate) fn maybe(id: &mut Option<FieldId>, hold: Hold, see: &mut See<'_>) {
    *id = id.and_then(|mut inner| field(&mut inner, hold, see).then_some(inner));
}

/// Whether all of a path still stands.
pub(crate) fn path(fields: &mut [FieldId], hold: Hold, see: &mut See<'_>) -> bool {
    let mut whole = true;
    for id in fields {
        whole &= field(id, hold, see);
    }
    whole
}

/// A list with what was taken out left out, and each once: two may have become one.
pub(crate) fn kept<T: Copy + PartialEq>(list: &mut Vec<T>, mut keeps: impl FnMut(&mut T) -> bool) {
    let mut rest: Vec<T> = Vec::with_capacity(list.len());
    for mut item in list.drain(..) {
        if keeps(&mut item) && !rest.contains(&item) {
            rest.push(item);
        }
    }
    *list = rest;
}
