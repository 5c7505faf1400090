//! Files that come from outside with what they belong to: looked into after all else would be taken, and kept with it alone.

use crate::{
    app::App,
    pictures::{self, Upload},
    problem::Problem,
};
use std::collections::BTreeMap;
use westerfall_core::{
    dataset::Dataset,
    fault::{Fault, FaultKind},
    id::FieldId,
    value::Attachment,
};

/// Most files that are sent at once.
const MOST: usize = 30;

/// What a file belongs to.
pub(super) trait Place: Copy + Ord {
    /// The field in which it is kept.
    fn field(self) -> FieldId;
    /// Where a fault of it is.
    fn pointer(self) -> String;
}

/// A file as it was sent.
pub(in crate::api) struct SentFile<P> {
    pub(super) place: P,
    pub(super) name: String,
    pub(super) bytes: Vec<u8>,
}

/// Files by what they belong to.
pub(super) type Placed<P> = BTreeMap<P, Vec<Attachment>>;

/// One more of those that are sent at once.
///
/// # Errors
/// It is one too many.
pub(super) fn add<P>(files: &mut Vec<SentFile<P>>, file: SentFile<P>) -> Result<(), Problem> {
    files.push(file);
    if files.len() > MOST {
        return Err(Fault::new(FaultKind::TooLong, format!("At most {MOST} files can be sent at once.")).into());
    }
    Ok(())
}

/// Files as they will be, before anybody has looked into them.
pub(super) fn unexamined<P: Place>(files: &[SentFile<P>]) -> Placed<P> {
    let mut placed = Placed::new();
    for (number, file) in files.iter().enumerate() {
        let (id, media) = (format!("unexamined-{number}"), "application/octet-stream".to_owned());
        let attachment = Attachment { id, name: file.name.clone(), media, size: file.bytes.len() as u64 };
        placed.entry(file.place).or_insert_with(Vec::new).push(attachment);
    }
    placed
}

/// Looks into files, now that the rest would be taken: a picture takes more work than anything else, and nobody does it for what is
/// refused.
///
/// # Errors
/// One of them can't be kept.
pub(super) async fn examined<P: Place>(app: &App, ds: &Dataset, files: Vec<SentFile<P>>) -> Result<(Placed<P>, Vec<Upload>), Problem> {
    let (mut placed, mut uploads) = (Placed::new(), Vec::new());
    for SentFile { place, name, bytes } in files {
        let upload = pictures::examine(&app.rooms, name, bytes, pictures::Keep::of(ds, place.field())).await;
        let upload = upload.map_err(|problem| problem.at(&place.pointer()))?;
        placed.entry(place).or_insert_with(Vec::new).push(upload.attachment.clone());
        uploads.push(upload);
    }
    Ok((placed, uploads))
}
