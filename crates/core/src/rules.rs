//! What a sort of part asks: of whoever changes it, of the tracker in which it stands, and who hears of it.

use crate::{
    access::{Asker, Lens},
    dataset::Dataset,
    fault::{Checked, Fault, FaultKind},
    part::Sort,
    schema::FieldDef,
    value::Value,
};

/// Whether a value is one that a field takes, and as which it is kept.
pub(crate) type Takes<'a> = dyn Fn(Value, &FieldDef) -> Result<Value, Fault> + 'a;

/// The rules of a sort of part.
pub(crate) trait Rules: Sort {
    /// Whether somebody may make, change or take away such a part. A part that they may not see is not found.
    fn may_shape(&self, lens: &Lens<'_>, asker: Asker) -> Result<(), Fault>;

    /// Whether it may give way to another state of itself, or to nothing.
    fn may_give_way(&self, _next: Option<&Self>, _lens: &Lens<'_>) -> Result<(), Fault> {
        Ok(())
    }

    /// Whether somebody may put it so.
    fn may_be_put(&self, _lens: &Lens<'_>) -> Checked<()> {
        Ok(())
    }

    /// As it is kept.
    fn tidied(self, _ds: &Dataset, _takes: &Takes<'_>) -> Checked<Self> {
        Ok(self)
    }

    /// Whether everything that it names is there and fits, in the tracker as it would be.
    fn fits(&self, before: Option<&Self>, ds: &Dataset) -> Checked<()>;

    /// What somebody hears of its change, who saw the tracker so before and so after it.
    fn tells(&self, before: &Lens<'_>, after: &Lens<'_>) -> Tells;

    /// Whether its change is heard otherwise by whom it is about.
    fn is_about_somebody(&self) -> bool {
        false
    }

    /// As it goes along where the tracker is packed: `whole`, with what is somebody's own.
    fn packed(self, _whole: bool) -> Option<Self> {
        Some(self)
    }
}

/// What somebody hears of the change of a part.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub(crate) struct Tells {
    /// Tables, fields, views and what else is listed are others.
    pub(crate) structure: bool,
    /// What they may see is another.
    pub(crate) access: bool,
}

impl Tells {
    pub(crate) fn structure_if(told: bool) -> Self {
        Self { structure: told, access: false }
    }
}

/// Of what only builders change.
pub(crate) fn builders_only(lens: &Lens<'_>, what: &str) -> Result<(), Fault> {
    let message = || format!("Only the tracker’s steward and builders can change {what}.");
    if lens.builds() { Ok(()) } else { Err(Fault::new(FaultKind::NotAllowed, message())) }
}

/// Of what only stewards change.
pub(crate) fn stewards_only(lens: &Lens<'_>) -> Result<(), Fault> {
    let message = "Only the tracker’s steward can change who may do what.";
    if lens.is_steward() { Ok(()) } else { Err(Fault::new(FaultKind::NotAllowed, message)) }
}
