"""A wattmeter on USB as the system's USB library would show it: USB Test & Measurement Class over bulk pipes.

Stands in below PyUSB, so that PyVISA and our own session talk to it as to a device on a lead. Run as a program:
reads it once, pulls the lead, and prints what became of it."""

import errno
import json
import struct
from types import SimpleNamespace

import usb.backend.libusb1
import usb.core
from usb.backend import IBackend

ANSWERS = {b"*IDN?": b"SIMULATED,WATTMETER,SN7,1\n", b"MEAS:POW?": b"3.81,0.012,3.84\n"}
NAMES = {1: "Larch Fell", 2: "wattmeter", 3: "SN7"}
BULK_OUT, BULK_IN = 0x01, 0x82


def _table(**fields: int) -> SimpleNamespace:
    return SimpleNamespace(bLength=9, extra_descriptors=[], **fields)


class Wattmeter(IBackend):
    """One device with one interface of class 0xFE, subclass 3; what is asked is answered from a table."""

    def __init__(self) -> None:
        self.pulled = False
        self.answer = b""
        self.tag = 0

    def enumerate_devices(self):
        return [] if self.pulled else [self]

    def get_device_descriptor(self, dev):
        return _table(
            bDescriptorType=1,
            bcdUSB=0x200,
            bDeviceClass=0,
            bDeviceSubClass=0,
            bDeviceProtocol=0,
            bMaxPacketSize0=64,
            idVendor=0x1234,
            idProduct=0x5678,
            bcdDevice=1,
            iManufacturer=1,
            iProduct=2,
            iSerialNumber=3,
            bNumConfigurations=1,
            address=4,
            bus=1,
            port_number=1,
            port_numbers=(1,),
            speed=3,
        )

    def get_configuration_descriptor(self, dev, config):
        return _table(
            bDescriptorType=2,
            wTotalLength=32,
            bNumInterfaces=1,
            bConfigurationValue=1,
            iConfiguration=0,
            bmAttributes=0x80,
            bMaxPower=50,
        )

    def get_interface_descriptor(self, dev, intf, alt, config):
        if intf or alt:
            raise IndexError(intf)
        return _table(
            bDescriptorType=4,
            bInterfaceNumber=0,
            bAlternateSetting=0,
            bNumEndpoints=2,
            bInterfaceClass=0xFE,
            bInterfaceSubClass=3,
            bInterfaceProtocol=0,
            iInterface=0,
        )

    def get_endpoint_descriptor(self, dev, ep, intf, alt, config):
        return _table(
            bDescriptorType=5,
            bEndpointAddress=(BULK_OUT, BULK_IN)[ep],
            bmAttributes=2,
            wMaxPacketSize=64,
            bInterval=0,
            bRefresh=0,
            bSynchAddress=0,
        )

    def open_device(self, dev):
        self._there()
        return dev

    def close_device(self, handle): ...
    def set_configuration(self, handle, value): ...
    def get_configuration(self, handle):
        return 1

    def claim_interface(self, handle, intf): ...
    def release_interface(self, handle, intf): ...
    def is_kernel_driver_active(self, handle, intf):
        return False

    def ctrl_transfer(self, handle, kind, request, value, index, data, timeout):
        self._there()
        if kind == 0x80 and request == 6:  # a string: the languages first, then names
            text = NAMES.get(value & 0xFF, "").encode("utf-16-le") if value & 0xFF else b"\x09\x04"
            told = bytes([len(text) + 2, 3]) + text
        else:
            told = bytes([1]) + bytes(0x17)  # capabilities: success, nothing beyond the class itself
        data[: len(told)] = type(data)("B", told)
        return len(told)

    def bulk_write(self, handle, ep, intf, data, timeout):
        self._there()
        told = bytes(data)
        self.tag = told[1]
        if told[0] == 1:
            asked = told[12 : 12 + struct.unpack_from("<L", told, 4)[0]].strip()
            self.answer = ANSWERS.get(asked, b"")
        return len(data)

    def bulk_read(self, handle, ep, intf, buff, timeout):
        self._there()
        if not self.answer:
            raise usb.core.USBTimeoutError("nothing to say", errno=errno.ETIMEDOUT)
        told = struct.pack("<BBBxLBxxx", 2, self.tag, ~self.tag & 0xFF, len(self.answer), 1) + self.answer
        self.answer = b""
        buff[: len(told)] = type(buff)("B", told)
        return len(told)

    def _there(self) -> None:
        if self.pulled:
            raise usb.core.USBError("no such device", errno=errno.ENODEV)


def main() -> None:
    device = Wattmeter()
    usb.backend.libusb1.get_backend = lambda find_library=None: device
    import pyvisa

    from young_spark.bench.session import LineFault, Session
    from young_spark.core.live import definitions

    addresses = pyvisa.ResourceManager("@py").list_resources("USB?*")
    session = Session(addresses[0], definitions()["simulated-wattmeter"])
    session.open()
    told = {"address": addresses[0], "identity": session.identity, "values": session.values()[2]}
    device.pulled = True
    try:
        session.values()
    except LineFault as fault:
        told |= {"fault": fault.sentence, "open": session.is_open}
    print(json.dumps(told))


if __name__ == "__main__":
    main()
