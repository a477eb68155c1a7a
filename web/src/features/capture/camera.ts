import { onBeforeUnmount, onMounted, ref, type Ref } from 'vue';

/** As sharp as the camera will, seen from the back of a telephone. */
const WANTED: MediaStreamConstraints = {
  audio: false,
  video: { facingMode: 'environment', width: { ideal: 4096 }, height: { ideal: 3072 } },
};

/** The camera of the device on the screen while a part of the page is there. `none`: there is none, or it may not be used. */
export function useCamera(video: Ref<HTMLVideoElement | null>) {
  const state = ref<'asking' | 'on' | 'none'>('asking');
  let stream: MediaStream | null = null;
  let over = false;

  async function open() {
    // Browsers give no camera to pages that are not encrypted.
    if (!('mediaDevices' in navigator)) return void (state.value = 'none');
    try {
      stream = await navigator.mediaDevices.getUserMedia(WANTED);
      if (over || !video.value) return close();
      video.value.srcObject = stream;
      await video.value.play();
      state.value = 'on';
    } catch (error) {
      if (!(error instanceof DOMException)) throw error;
      close();
      state.value = 'none';
    }
  }

  function close() {
    for (const track of stream?.getTracks() ?? []) track.stop();
    stream = null;
  }

  /** A picture of what is before the camera: as sharp as the camera takes one, else as it is on the screen. */
  async function take(): Promise<Blob> {
    const [track] = stream?.getVideoTracks() ?? [];
    if (track && 'ImageCapture' in window) {
      try {
        return await new ImageCapture(track).takePhoto();
      } catch (error) {
        // Some cameras film and take no pictures.
        if (!(error instanceof DOMException)) throw error;
      }
    }
    return frameOf(video.value!);
  }

  onMounted(open);
  onBeforeUnmount(() => {
    over = true;
    close();
  });
  return { state, take };
}

async function frameOf(video: HTMLVideoElement): Promise<Blob> {
  const canvas = new OffscreenCanvas(video.videoWidth, video.videoHeight);
  canvas.getContext('2d')!.drawImage(video, 0, 0);
  return canvas.convertToBlob({ type: 'image/jpeg', quality: 0.92 });
}
