//! The bytes of files: in a local folder, or wherever `object_store` is told.

use crate::Stored;
use object_store::{ObjectStore, ObjectStoreExt, local::LocalFileSystem, path::Path};
use std::sync::Arc;

/// The file store.
#[derive(Clone, Debug)]
pub struct Files(Arc<dyn ObjectStore>);

impl Files {
    /// Files in a local folder, which is made if it is missing.
    ///
    /// # Errors
    /// If the folder can't be made or used.
    pub fn in_folder(folder: &std::path::Path) -> std::io::Result<Self> {
        std::fs::create_dir_all(folder)?;
        let store = LocalFileSystem::new_with_prefix(folder).map_err(std::io::Error::other)?;
        Ok(Self(Arc::new(store)))
    }

    fn path(id: &str) -> Path {
        // Two levels, so that no folder holds a million files.
        Path::from(format!("{}/{id}", id.get(..2).unwrap_or("xx")))
    }

    /// Keeps bytes under an id.
    pub async fn put(&self, id: &str, bytes: Vec<u8>) -> Stored<()> {
        self.0.put(&Self::path(id), bytes.into()).await?;
        Ok(())
    }

    /// The bytes under an id; none where there are none.
    pub async fn get(&self, id: &str) -> Stored<Option<Vec<u8>>> {
        match self.0.get(&Self::path(id)).await {
            Ok(found) => Ok(Some(found.bytes().await?.to_vec())),
            Err(object_store::Error::NotFound { .. }) => Ok(None),
            Err(error) => Err(error.into()),
        }
    }

    /// Takes the bytes under an id away, if there are any.
    pub async fn drop(&self, id: &str) -> Stored<()> {
        match self.0.delete(&Self::path(id)).await {
            Ok(()) | Err(object_store::Error::NotFound { .. }) => Ok(()),
            Err(error) => Err(error.into()),
        }
    }
}
