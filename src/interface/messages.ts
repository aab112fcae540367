// Before the library, whose style sheets want the nonce as soon as it is loaded.
import './style-nonce';

export { SnackbarProvider, useSnackbar } from 'notistack';
